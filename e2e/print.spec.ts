import { execFileSync } from "node:child_process";
import type { Page } from "@playwright/test";
import { awake, expect, readOnly, signIn } from "./site.ts";

/** Prints the page, as the print dialog does, and answers how many sheets it takes. */
async function sheets(page: Page): Promise<number> {
  const pdf = await page.pdf({ format: "Letter" });
  return pdf.toString("latin1").match(/\/Type\s*\/Page\b/g)?.length ?? 0;
}

/** The words on each sheet of the page as it prints, read back from the PDF by poppler. */
async function sheetWords(page: Page): Promise<string[]> {
  const pdf = await page.pdf({ format: "Letter" });
  const text = execFileSync("pdftotext", ["-layout", "-", "-"], { input: pdf, encoding: "utf8" });
  return text.split("\f").slice(0, -1);
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

readOnly(
  "a report prints as the report and nothing else: a running head, every section open, the log last and short",
  async ({ page, site }) => {
    await signIn(page, "noor");
    await page.setViewportSize({ width: 816, height: 1056 });
    await page.goto(`/students/${site.demo.student("Wren")}/report`);
    await awake(page);
    await expect(page.getByRole("button", { name: "Print" })).toBeVisible();
    // A section that is folded on the screen is read on paper.
    await page.getByRole("heading", { name: "Behavior", level: 2 }).click();
    await expect(page.getByText("Incidents by week")).toBeHidden();
    await page.emulateMedia({ media: "print" });
    await expect(page.getByText("Incidents by week")).toBeVisible();
    for (const part of [".report-list", ".report-entry", ".report-goal-head"])
      expect(
        await page
          .locator(part)
          .first()
          .evaluate((one) => getComputedStyle(one).breakInside),
      ).toBe("avoid");
    expect(await overlaps(page, ".report-goal:first-of-type svg text")).toEqual([]);
    await expect(page.getByRole("button", { name: "Print" })).toBeHidden();
    await page.emulateMedia({ media: null });

    const pages = await sheetWords(page);
    pages.forEach((words, at) => {
      expect(words).toMatch(/^\s*W\.A\. · [A-Z][a-z]{2} \d{1,2}, \d{4} to [A-Z][a-z]{2} \d{1,2}, \d{4}\n/);
      expect(words).toMatch(new RegExp(`\\b${at + 1}\\s*/\\s*${pages.length}\\s*$`));
    });
    const [first = ""] = pages;
    for (const words of ["Wren Abara", "Support team", "Going well", "Needs a decision", "Ahead of the line"])
      expect(first).toContain(words);
    expect(pages.join("\n")).not.toMatch(/This school year|Log by day|Goals\s+Print|Caseload|Sign out/);
    const log = pages.findIndex((words) => words.includes("Entries and incidents by day"));
    expect(log).toBeGreaterThan(0);
    // Eleven weeks with three goals and thirty incidents took ten pages before.
    expect(pages.length - log).toBeLessThanOrEqual(5);
  },
);
