import type { Page } from "@playwright/test";
import { awake, expect, readOnly, signIn } from "./site.ts";

/** Prints the page, as the print dialog does, and answers how many sheets it takes. */
async function sheets(page: Page): Promise<number> {
  const pdf = await page.pdf({ format: "Letter" });
  return pdf.toString("latin1").match(/\/Type\s*\/Page\b/g)?.length ?? 0;
}

/** Pairs of the texts in these elements whose boxes lie over each other. */
const overlaps = (page: Page, selector: string) =>
  page.evaluate((wanted) => {
    const boxes = [...document.querySelectorAll(wanted)]
      .map((one) => ({ text: one.textContent, box: one.getBoundingClientRect() }))
      .filter(({ box, text }) => box.width > 0 && text !== "");
    return boxes.flatMap(({ text, box }, at) =>
      boxes
        .slice(at + 1)
        .filter(
          ({ box: other }) =>
            box.left < other.right - 1 &&
            other.left < box.right - 1 &&
            box.top < other.bottom - 1 &&
            other.top < box.bottom - 1,
        )
        .map((other) => `${text} and ${other.text}`),
    );
  }, selector);

const isSeen = (page: Page, selector: string) =>
  page
    .locator(selector)
    .first()
    .evaluate((one) => {
      const { height, width } = one.getBoundingClientRect();
      return height > 0 && width > 0 && one.checkVisibility({ contentVisibilityAuto: false });
    });

readOnly(
  "a goal prints with its drawing and figure, months and key apart, its table open, dates with their year, rows whole, pages numbered",
  async ({ page, site }) => {
    await signIn(page, "noor");
    await page.setViewportSize({ width: 816, height: 1056 });
    await page.goto(`/students/${site.demo.student("Wren")}/goals/${site.demo.goal("Wren", "2b")}`);
    await awake(page);
    expect(await sheets(page)).toBeGreaterThan(0);
    await page.emulateMedia({ media: "print" });
    const figure = page.locator("figure.print-block");
    await expect(figure).toBeVisible();
    await expect(page.locator("canvas").first()).toBeHidden();
    const last = (
      await page
        .getByText(/^\d+%$/)
        .first()
        .innerText()
    ).replace("%", "");
    await expect(figure.locator("text").getByText(last, { exact: true }).first()).toBeVisible();
    await expect(figure.getByText(/^[A-Z][a-z]{2} \d{1,2}, \d{4}$/)).toBeVisible();
    expect(await overlaps(page, "figure.print-block :is(text, figcaption, p, li)")).toEqual([]);
    // The table is folded on the screen.
    const rows = "main details:not([open]) tbody tr";
    expect(await isSeen(page, rows)).toBe(true);
    await expect(page.locator(rows).first()).toContainText(/[A-Z][a-z]{2} \d{1,2}, \d{4}/);
    expect(
      await page
        .locator(rows)
        .first()
        .evaluate((row) => getComputedStyle(row).breakInside),
    ).toBe("avoid");
    const page1 = await page.evaluate(() =>
      [...document.styleSheets]
        .flatMap((sheet) => [...sheet.cssRules])
        .filter((rule) => rule.constructor.name === "CSSPageRule")
        .map((rule) => rule.cssText)
        .join(),
    );
    expect(page1).toMatch(/counter\(page\).*counter\(pages\)/s);
    await expect(page.getByRole("navigation", { name: "Students" })).toBeHidden();
  },
);

readOnly("the caseload and the patterns print with their year and what is folded", async ({ page, site }) => {
  await signIn(page, "noor");
  await page.setViewportSize({ width: 816, height: 1056 });
  await page.goto("/caseload");
  await awake(page);
  await page.emulateMedia({ media: "print" });
  await expect(page.getByText("Tuesday, November 24, 2026")).toBeVisible();
  await page.emulateMedia({ media: "screen" });
  await expect(page.getByText("Tuesday, November 24, 2026")).toBeHidden();
  await expect(page.getByText("Tuesday, November 24", { exact: true })).toBeVisible();

  await page.goto(`/students/${site.demo.student("Wren")}/patterns`);
  await awake(page);
  const incidents = page.getByRole("region", { name: "Findings" }).getByRole("link", { name: /, 20\d\d / });
  await expect(incidents).toHaveCount(0);
  expect(await sheets(page)).toBeGreaterThan(1);
  await page.emulateMedia({ media: "print" });
  expect(await incidents.count()).toBeGreaterThan(5);
  await expect(incidents.first()).toBeVisible();
  await expect(page.getByText(/arrow keys/)).toBeHidden();
  await expect(page.getByRole("link", { name: /^CSV/ }).first()).toBeHidden();
  expect(await overlaps(page, "main svg text")).toEqual([]);
});
