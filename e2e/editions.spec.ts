import { awake, expect, expectAccessible, signIn, test } from "./site.ts";

test("a family edition in Spanish: the choices stand beside the report, the edition is made, opened, and its changes are told by the next", async ({
  page,
  site,
}) => {
  const wren = `/students/${site.demo.student("Wren")}`;
  await signIn(page, "noor");
  await page.goto(`${wren}/audiences/family`);
  await awake(page);
  const preview = page.getByRole("region", { name: "Preview" });
  await expect(preview).toContainText("In plain words: Wren is working on");
  await page.getByRole("checkbox", { name: "Behavior" }).check();
  await expect(preview.getByRole("heading", { name: "Behavior", level: 2 })).toBeVisible();
  await page.getByRole("checkbox", { name: "Behavior" }).uncheck();
  await expect(preview.getByRole("heading", { name: "Behavior", level: 2 })).toHaveCount(0);
  await page.getByRole("radio", { name: "Initials" }).check();
  await page.getByRole("radio", { name: "Spanish" }).check();
  await expect(preview).toContainText("En palabras sencillas: Wren trabaja en");
  await expect(preview).toContainText("N.H., responsable del caso");
  await page.getByRole("button", { name: "Save for this student" }).click();
  await expect(page.getByText("Saved.", { exact: true }).first()).toBeVisible();
  await expect(page.getByText("These settings are this student’s own.")).toBeVisible();

  await page.getByRole("link", { name: "Make an edition" }).click();
  await expect(page.getByText(/^Edition \d+ for the family$/)).toBeVisible();
  await expect(page.locator(".report-sheet")).toContainText("Metas");
  await page.getByRole("button", { name: /^Make edition/ }).click();
  await expect(page).toHaveURL(/\/editions\/[0-9a-f-]{36}$/);
  await expect(page.getByText("SHA-256").first()).toBeVisible();
  await expectAccessible(page, "a family edition in Spanish");
  const first = await page.locator(".report-sheet").innerText();

  // A correction afterwards changes the running report, and not the edition; the next one tells of it.
  const edition = page.url();
  const { rows } = await site.owner.raw<{ rows: { entry_id: string }[] }>(
    "select entry_id from entries where student_id = ? and state = 'kept' order by observed_at desc limit 1",
    [site.demo.student("Wren")],
  );
  await page.goto(`${wren}/entries/${rows[0]?.entry_id ?? ""}`);
  await awake(page);
  await page.getByRole("button", { name: "Remove this entry" }).click();
  await expect(page.getByText("Removed").first()).toBeVisible();
  await page.goto(edition);
  await expect.poll(() => page.locator(".report-sheet").innerText()).toBe(first);
  await page.goto(`${wren}/editions/new?for=family`);
  await awake(page);
  await page.getByRole("button", { name: /^Make edition/ }).click();
  await expect(page.getByText(/Replaces edition \d+: .*1 removed/)).toBeVisible();
});
