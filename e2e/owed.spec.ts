import { awake, expect, signIn, test } from "./site.ts";

test("what was looked at, printed and given to somebody outside stands in the access record, and is saved as a table", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  const wren = `/students/${site.demo.student("Wren")}`;
  await page.goto(`${wren}/report`);
  await awake(page);
  // As the print dialog does.
  await page.pdf({ format: "Letter" });
  await expect
    .poll(async () => (await site.owner("audit").where({ act: "printed", thing: "report" })).length)
    .toBe(1);
  await page.goto(`${wren}/circle`);
  await page.getByRole("link", { name: "Access record" }).click();
  await awake(page);
  const staff = page.getByRole("region", { name: "Staff of the school" });
  await expect(staff.getByText("printed the report")).toBeVisible();
  await expect(staff.getByText("looked at the report").first()).toBeVisible();

  await page.getByLabel("Who asked").fill("Harbor Speech Clinic");
  await page.getByLabel("What they asked for").fill("The articulation goal");
  await page.getByRole("button", { name: "Write it down" }).click();
  await expect(page.getByText("Say for what they need it, in their words.")).toBeVisible();
  await expect(page.getByLabel("Who asked")).toHaveValue("Harbor Speech Clinic");
  await page.getByLabel("What they need it for").fill("Therapy in the summer");
  await page.getByRole("button", { name: "Write it down" }).click();
  const outside = page.getByRole("region", { name: "Outside the school’s staff" });
  await expect(outside.getByText("gave a part of the record to Harbor Speech Clinic")).toBeVisible();
  await expect(outside.getByText("The articulation goal: Therapy in the summer")).toBeVisible();

  const downloading = page.waitForEvent("download");
  await page.getByRole("link", { name: "Download" }).click();
  expect((await downloading).suggestedFilename()).toMatch(/^WA-access-record-\d{4}-\d{2}-\d{2}\.csv$/);
});

test("what is due tomorrow is given to a colleague from the coverage page", async ({ page, site }) => {
  await signIn(page, "noor");
  await page.goto("/today");
  await page.getByRole("link", { name: "Coverage" }).click();
  await awake(page);
  const due = page.getByRole("region", { name: /^Due on / });
  const row = due.getByRole("listitem").first();
  const people = row.getByRole("combobox");
  const name = (await people.getByRole("option").nth(1).textContent()) ?? "";
  await people.selectOption({ label: name });
  await row.getByRole("button", { name: /^Give/ }).click();
  await expect(row.getByText(`${name} is asked, by Noor Halloran`)).toBeVisible();
  expect(await site.owner("data_asks").whereNull("taken_back_at")).toHaveLength(1);
  await row.getByRole("button", { name: /^Take back/ }).click();
  await expect(row.getByRole("combobox")).toBeVisible();
});
