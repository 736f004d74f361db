import { readFile } from "node:fs/promises";
import { awake, expect, expectAccessible, signIn, test } from "./site.ts";

test("a packet: chosen, who is in it, made in the background, fetched, found again; and one that is cancelled", async ({
  page,
}) => {
  await signIn(page, "noor");
  await page.goto("/progress-reports");
  await awake(page);
  await page.getByRole("link", { name: "Hand them out" }).click();
  await expect(page.getByRole("heading", { name: "Packets", level: 1 })).toBeVisible();
  const inIt = page.getByRole("group", { name: /^In the packet/ });
  await expect(inIt.getByRole("checkbox")).toHaveCount(1);
  await page.getByRole("combobox", { name: "Whose" }).selectOption({ label: "Kitchen crew" });
  await expect(page).toHaveURL(/whose=group/);
  const asked = page.getByRole("group", { name: /^Not ready/ });
  await asked.getByRole("checkbox").first().check();
  // What was ticked and typed survives an error.
  await page.getByRole("button", { name: "Make the packet" }).click();
  await expect(page.getByText("Say who receives it.")).toBeVisible();
  await expect(asked.getByRole("checkbox").first()).toBeChecked();
  await page.getByLabel("For whom").fill("families, in the backpack");
  await page.getByRole("button", { name: "Make the packet" }).click();
  await expect(page).toHaveURL(/\/packets\/[0-9a-f-]+$/);
  await expect(page.getByRole("link", { name: "Download" })).toBeVisible({ timeout: 800_000 });
  await expect(page.getByText(/^2 students/)).toBeVisible();
  await expectAccessible(page, "a packet that is made");
  const downloading = page.waitForEvent("download");
  await page.getByRole("link", { name: "Download" }).click();
  const download = await downloading;
  expect(download.suggestedFilename()).toBe("Progress-reports-Trimester-1-Kitchen-crew-2026-11-24.pdf");
  expect((await readFile(await download.path())).subarray(0, 5).toString()).toBe("%PDF-");

  await page.getByRole("link", { name: "Packets", exact: true }).click();
  const mine = page.getByRole("region", { name: "My packets" }).getByRole("listitem");
  await expect(mine.first()).toContainText("2 students · for families, in the backpack · ready");

  await page.getByRole("radio", { name: /^A Word file/ }).check();
  await expect(page).toHaveURL(/form=words/);
  for (const box of await page
    .getByRole("group", { name: /^Not ready/ })
    .getByRole("checkbox")
    .all())
    await box.check();
  await page.getByLabel("For whom").fill("the office");
  await page.getByRole("button", { name: "Make the packet" }).click();
  await expect(page.getByText(/^Reading reports|^The reports are read/)).toBeVisible();
  await expectAccessible(page, "a packet under way");
  await page.getByRole("button", { name: "Cancel" }).click();
  await expect(page.getByText("This packet was cancelled. Nothing of it left the school.")).toBeVisible();
});
