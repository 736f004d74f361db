import { awake, choose, expect, expectAccessible, margin, recording, signIn, test } from "./site.ts";
import { madeReady, tablet, withFolder } from "./tablet.ts";

test("a note that may name another student says so under the field, and blocks nothing: replaced, kept, or remembered as no name", async ({
  page,
  site,
}) => {
  const wren = site.demo.student("Wren");
  const goal = `/students/${wren}/goals/${site.demo.goal("Wren", "2b")}`;
  await signIn(page, "noor");
  await page.goto(`${goal}/record`);
  await awake(page);
  for (let n = 0; n < 3; n += 1) await page.getByRole("button", { name: /^Correct/ }).click();
  await page.keyboard.press("n");
  const note = page.getByLabel("Note");
  await note.fill("Wren shared with Tobias and Priya. Will try again in May.");
  const lines = page.locator("names-under .names-line");
  await expect(lines).toHaveCount(2);
  await expect(lines.first()).toContainText("May name another student: Tobias");
  await expect(page.locator("#said")).toHaveText(/This may name another student: Tobias/);
  await expectAccessible(page, "a note that names another student");
  await page.getByRole("button", { name: "Replace with “a peer”: Tobias" }).click();
  await expect(note).toHaveValue("Wren shared with a peer and Priya. Will try again in May.");
  await expect(note).toBeFocused();
  await page.getByRole("button", { name: "Keep: Priya" }).click();
  await expect(lines).toHaveCount(0);
  await page.getByRole("button", { name: /^Save/ }).click();
  await expect(page).toHaveURL(/saved=/);
  const newest = margin(page).getByRole("listitem").first();
  await expect(newest).toContainText("Wren shared with a peer and Priya. Will try again in May.");

  // The correction knows it too; what is remembered is not asked again in this record, and is in another's.
  await newest.getByRole("link").click();
  await page.getByLabel("Note").focus();
  await expect(lines).toHaveCount(1);
  const remembered = page.waitForResponse(
    (one) => one.url().endsWith("/names") && one.request().method() === "POST",
  );
  await page.getByRole("button", { name: "Not a name here: Priya" }).click();
  expect((await remembered).status()).toBe(200);
  await page.reload();
  await page.getByLabel("Note").focus();
  await page.getByLabel("Note").fill("Priya and Tobias.");
  await expect(lines).toHaveCount(1);
  await expect(lines).toContainText("Tobias");
});

withFolder(
  "without a network the device finds them by their hashes alone: no name of another student is on it",
  async ({ site, folder }) => {
    const context = await tablet(folder, site.web.url);
    const page = context.pages()[0] ?? (await context.newPage());
    let told = "";
    page.on("response", (one) => {
      if (one.url().includes("/recording/pack") && one.request().method() === "POST")
        void one.text().then(
          (text) => (told = text),
          () => null,
        );
    });
    await madeReady(page);
    await expect.poll(() => told).toContain('"names"');
    const { names } = (JSON.parse(told) as { pack: { names: { salt: string } } }).pack;
    expect(names.salt).toMatch(/^[0-9a-f]{32}$/);
    const { rows } = await site.owner.raw<{ rows: { given_name: string; family_name: string }[] }>(
      "select given_name, family_name from students",
    );
    const hashed = JSON.stringify(names).toLowerCase();
    for (const { given_name, family_name } of rows)
      for (const name of [given_name, family_name].filter((one) => one.length > 3))
        expect(hashed).not.toContain(name.toLowerCase());
    await context.setOffline(true);
    await page.goto("/record");
    await recording(page);
    await choose(page, "W.A.", /Two-digit subtraction/);
    await page.getByRole("button", { name: "Start with W.A." }).click();
    await page.getByRole("heading", { name: /^Sitting/ }).waitFor();
    await page.keyboard.press("n");
    await page.getByLabel("Note").fill("Hit Tobias at the sink.");
    await expect(page.locator("names-under .names-line")).toContainText("Tobias");
    await context.close();
  },
);
