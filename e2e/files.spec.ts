import { readFile } from "node:fs/promises";
import { awake, expect, expectAccessible, signIn, test } from "./site.ts";

test("a report is made into a PDF and into text to paste; each is listed with who receives it", async ({
  page,
  site,
}) => {
  const wren = `/students/${site.demo.student("Wren")}`;
  await signIn(page, "noor");
  await page.goto(`${wren}/report`);
  await awake(page);
  await page.getByRole("link", { name: "Files", exact: true }).click();
  await expect(page.getByRole("heading", { name: /^Files/, level: 1 })).toBeVisible();
  await page.getByRole("button", { name: "Make the file" }).click();
  await expect(page.getByText("Say who receives it.")).toBeVisible();
  await page.getByLabel("For whom").fill("Rosa Abara");
  const kept = page.getByRole("checkbox", { name: /I looked at each/ });
  const keep = async () => {
    if (await kept.isVisible()) await kept.check();
  };
  await keep();
  const downloading = page.waitForEvent("download");
  await page.getByRole("button", { name: "Make the file" }).click();
  const download = await downloading;
  expect(download.suggestedFilename()).toMatch(/^WA-[0-9a-f]{4}-report-2026-11-24\.pdf$/);
  const bytes = await readFile(await download.path());
  expect(bytes.subarray(0, 5).toString()).toBe("%PDF-");
  await expect(page.getByText("The browser has it: look in its downloads.")).toBeVisible();
  await expectAccessible(page, "a file that was made");

  // Opened once more, nothing is fetched by itself: the file is there for who asks.
  await page.getByRole("radio", { name: /^Text/ }).check();
  await page.getByLabel("For whom").fill("The district");
  await keep();
  await page.getByRole("button", { name: "Make the file" }).click();
  await expect(page.getByRole("heading", { name: "To paste" })).toBeVisible();
  const text = page.getByRole("textbox", { name: /^2b Two-digit subtraction/ });
  await expect(text).toHaveValue(/given ten two-digit subtraction problems/);
  await page.getByLabel(/A field there takes at most/).fill("500");
  await expect(text.first()).toHaveAccessibleName(/part 1 of/);
  for (const part of await text.all()) expect((await part.inputValue()).length).toBeLessThanOrEqual(500);
  await page.context().grantPermissions(["clipboard-read", "clipboard-write"]);
  await page
    .getByRole("button", { name: /^Copy 2b/ })
    .first()
    .click();
  await expect(page.getByRole("button", { name: /^Copied 2b/ })).toBeVisible();
  expect(await page.evaluate(() => navigator.clipboard.readText())).toBe(await text.first().inputValue());
  await expectAccessible(page, "text to paste");
  const made = page.getByRole("region", { name: "Files made" }).getByRole("listitem");
  await expect(made.first()).toContainText(/Text · running report · for The district · N\. Halloran/);
  await expect(made.nth(1)).toContainText(/PDF · running report · for Rosa Abara · N\. Halloran/);
});
