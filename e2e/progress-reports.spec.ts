import { awake, expect, expectAccessible, signIn, test } from "./site.ts";

test("every statement that is left is written, rated and marked ready without leaving the keyboard", async ({
  page,
}) => {
  await signIn(page, "noor");
  await page.goto("/caseload");
  await awake(page);
  await page.keyboard.press("g");
  await page.keyboard.press("p");
  await expect(page.getByRole("heading", { name: "Progress reports" })).toBeFocused();
  const left = page.getByRole("link", { name: /^to write \d+$/ });
  await expect(left).toBeVisible();
  const toWrite = Number((await left.textContent())?.replace(/\D/g, ""));
  expect(toWrite).toBeGreaterThan(9);
  // From the heading to the filter, and through the goals with the arrow keys.
  for (let tabs = 0; tabs < 5 && !(await left.evaluate((one) => one === document.activeElement)); tabs += 1)
    await page.keyboard.press("Tab");
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(/show=write/);
  const goals = page.locator("[data-goal]");
  await expect(goals).toHaveCount(toWrite);
  for (
    let tabs = 0;
    tabs < 12 && !(await goals.first().evaluate((one) => one === document.activeElement));
    tabs += 1
  )
    await page.keyboard.press("Tab");
  await page.keyboard.press("ArrowDown");
  await expect(goals.nth(1)).toBeFocused();
  await page.keyboard.press("ArrowUp");
  await page.keyboard.press("Enter");
  const words = page.getByLabel("In your words");
  for (let n = 1; n <= toWrite; n += 1) {
    await expect(page.locator("[data-goal]")).toHaveCount(toWrite - n + 1);
    await expect(words).toBeFocused();
    await page.keyboard.press("Control+End");
    await page.keyboard.type(` Read ${n}.`);
    const before = page.url();
    await expect(page.getByRole("button", { name: /^Ready/ })).toBeEnabled();
    // A rating that was chosen before stays; else the first one is.
    const rating = page.locator(".statement [name=ratingId]");
    if (!(await rating.evaluateAll((all) => all.some((one) => (one as HTMLInputElement).checked)))) {
      if (n === 1) {
        await page.keyboard.press("Control+Enter");
        await expect(page.getByText("Choose a rating.")).toBeVisible();
        await expect(words).toHaveValue(/ Read 1\.$/);
      }
      for (let tabs = 0; tabs < 6; tabs += 1) {
        if (await page.evaluate(() => (document.activeElement as HTMLInputElement).name === "ratingId"))
          break;
        await page.keyboard.press("Tab");
      }
      await page.keyboard.press("Space");
      await expect(rating.first()).toBeChecked();
    }
    await page.keyboard.press("Control+Enter");
    await expect(page).not.toHaveURL(before);
  }
  await expect(page.getByText("Everything that is yours to write is ready.")).toBeVisible();
  await expect(page.getByRole("link", { name: "to write 0" })).toBeVisible();
});

test("a statement begun is not lost, its draft can be edited as one's own words, and Escape leads back", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  await page.goto("/progress-reports");
  await awake(page);
  await expectAccessible(page, "progress reports");
  const goal = page.locator("[data-goal]", { hasText: "Moves to the next activity" });
  await goal.click();
  const words = page.getByLabel("In your words");
  await words.fill("We begin with a picture strip.");
  await expect(page.getByText("Changed, not saved yet.")).toBeVisible();
  await page.reload();
  await awake(page);
  await expect(words).toHaveValue("We begin with a picture strip.");
  await page.getByRole("button", { name: "Edit the draft as my words" }).click();
  await expect(words).toHaveValue(/^We begin with a picture strip\.\nIn Trimester 1 so far, Wren’s median/);
  await expect(page.getByLabel("These sentences come before my words")).not.toBeChecked();
  // What was put in is taken back as what was typed is.
  await words.press("Control+z");
  await expect(words).toHaveValue("We begin with a picture strip.");
  await words.press("Control+s");
  await expect(page.getByText("Saved.", { exact: true }).first()).toBeVisible();
  await expectAccessible(page, "a progress statement");
  await words.fill("Wren walked with Priya.");
  await expect(page.locator("names-under .names-line").first()).toContainText("May name another student");
  await page.keyboard.press("Escape");
  await expect(goal).toBeFocused();
  await expect(goal).toContainText("drafted");
  await page.goBack();
  await expect(words).toBeVisible();
  // What was not saved is there again.
  await expect(words).toHaveValue("Wren walked with Priya.");
  const [saved] = await site
    .owner<{ words: string; goal_id: string }>("progress_statements")
    .where({ goal_id: site.demo.goal("Wren", "4") });
  expect(saved?.words).toBe("We begin with a picture strip.");
});

test("what another person saves meanwhile is not written over", async ({ page, site, browser }) => {
  const path = `${site.demo.student("Malik")}/${site.demo.goal("Malik", "2")}`;
  const open = async (on: typeof page) => {
    await on.goto("/progress-reports");
    await awake(on);
    const here = new URL(on.url()).pathname;
    await on.goto(`${here}/${path}`);
    await awake(on);
    return on.getByLabel("In your words");
  };
  await signIn(page, "noor");
  const mine = await open(page);
  const other = await browser.newContext({ baseURL: site.web.url });
  const theirs = await other.newPage();
  await signIn(theirs, "gus");
  const gus = await open(theirs);
  await mine.fill("Malik catches with both hands.");
  await gus.fill("Malik steps towards the ball.");
  await gus.press("Control+s");
  await expect(theirs.getByText("Saved.", { exact: true }).first()).toBeVisible();
  await other.close();
  // The page hears of it; what is being typed stays, and so does what it was begun on.
  await expect(page.getByText("Earlier versions (1)")).toBeVisible();
  await mine.press("Control+s");
  await expect(page.getByText(/Another person saved this statement/)).toBeVisible();
  await expect(mine).toHaveValue("Malik catches with both hands.");
  await expect(page.getByRole("button", { name: "Save the draft" })).toBeEnabled();
  await mine.press("Control+s");
  await expect(page.getByText("Earlier versions (2)")).toBeVisible();
  await page.getByText("Earlier versions (2)").click();
  await expect(page.locator(".statement").getByText("Malik steps towards the ball.")).toBeVisible();
});

test("a school that has no ratings is asked for its own, and offers them beside the words", async ({
  page,
  site,
}) => {
  await site.owner("progress_statements").update({ rating_id: null });
  await site.owner("statement_ratings").delete();
  await signIn(page, "noor");
  await page.goto("/progress-reports");
  await awake(page);
  const goal = page.locator("[data-goal]", { hasText: "Two-digit subtraction" });
  await goal.click();
  await page.getByRole("link", { name: "Write those of your district’s form" }).click();
  await awake(page);
  await page.getByRole("textbox", { name: "rating 1" }).fill("met the target");
  await page.keyboard.press("Enter");
  await page.keyboard.type("below the target");
  await page.getByRole("button", { name: "Save the ratings" }).click();
  await expect(page.getByText("Saved.", { exact: true }).first()).toBeVisible();
  await page.goto("/progress-reports");
  await awake(page);
  await goal.click();
  await page.getByText("below the target").click();
  await page.getByRole("button", { name: "Ready, next" }).click();
  await goal.click();
  await expect(page.getByRole("radio", { name: "below the target" })).toBeChecked();
});
