import type { Locator, Page } from "@playwright/test";
import { copiesOfGoal } from "../tests/demo-school.ts";
import { choose, expect, expectAccessible, margin, recording, signIn, test } from "./site.ts";

const sitting = (page: Page) => page.getByRole("heading", { name: /^Sitting/ });
const panel = (page: Page, goal: RegExp) => page.getByRole("region", { name: goal });

const numeratorOf = ({ numerator }: { numerator: number | null }) => numerator;

/** Counts taps from a goal's page until its line stands in the margin. */
async function tapsToRecord(
  page: Page,
  path: string,
  marks: (tap: (what: string | RegExp | Locator) => Promise<void>) => Promise<void>,
) {
  let taps = 0;
  const tap = async (what: string | RegExp | Locator) => {
    const named = typeof what === "string" || what instanceof RegExp;
    await (named ? page.getByRole("button", { name: what }).first() : what).click();
    taps += 1;
  };
  await page.goto(path);
  await page.locator(".notebook[data-ready]").waitFor();
  await page.getByRole("link", { name: /^Record \S/ }).click();
  taps += 1;
  await sitting(page).waitFor();
  await marks(tap);
  await tap(/^Save/);
  await expect(page).toHaveURL(/saved=/);
  return taps;
}

test("a ten-trial probe takes at most 12 taps, a grid of four at most 6, ten trials with support at most 12", async ({
  page,
  site,
}) => {
  const at = (given: string, number: string) =>
    `/students/${site.demo.student(given)}/goals/${site.demo.goal(given, number)}`;
  await signIn(page, "noor");
  const probe = await tapsToRecord(page, at("Elowen", "1"), async (tap) => {
    for (let trial = 0; trial < 10; trial += 1) await tap(trial < 6 ? /^Correct/ : /^Not yet/);
  });
  expect(probe).toBeLessThanOrEqual(12);
  await expect(margin(page).getByRole("listitem").first()).toContainText("6 of 10 correct (60%).");

  const { rows } = await site.owner.raw<{ rows: { measure: { planned?: number; levels: string[] } }[] }>(
    "select measure from goal_measures where goal_id = ?",
    [site.demo.goal("Wren", "3")],
  );
  const planned = rows[0]?.measure.planned ?? 0;
  const supports = await tapsToRecord(page, at("Wren", "3"), async (tap) => {
    for (let trial = 0; trial < planned; trial += 1)
      await tap(new RegExp(rows[0]?.measure.levels[trial % 2] ?? ""));
  });
  expect(supports).toBeLessThanOrEqual(planned + 2);

  // A grid of exactly four rows, made from one of the demo's.
  const { rows: grids } = await site.owner.raw<{ rows: { goal_id: string; student_id: string }[] }>(
    "select g.goal_id, g.student_id from goals g join goal_measures m using (goal_id) where m.measure ->> 'kind' = 'skills' limit 1",
  );
  await copiesOfGoal(site.owner, grids[0]?.goal_id ?? "", 1);
  const { rows: four } = await site.owner.raw<{ rows: { goal_id: string }[] }>(
    `update goal_measures m set measure = jsonb_set(measure, '{skills}', (
       select jsonb_agg(skill order by place) from jsonb_array_elements(measure -> 'skills') with ordinality s (skill, place) where place <= 4))
     from goals g where g.goal_id = m.goal_id and g.number = 'x1' returning m.goal_id`,
  );
  const path = `/students/${grids[0]?.student_id}/goals/${four[0]?.goal_id}`;
  const grid = await tapsToRecord(page, path, async (tap) => {
    await expect(page.locator("[data-row]")).toHaveCount(4);
    for (let row = 0; row < 4; row += 1)
      await tap(page.locator("[data-row]").nth(row).locator("label").first());
  });
  expect(grid).toBeLessThanOrEqual(6);
  await expect(margin(page).getByRole("listitem").first()).toContainText("4 of 4");
});

test("several students side by side: marks by key and touch, undo, absent, refused, review, the lines of the reports", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  await page.goto("/record");
  await recording(page);
  await page.getByRole("checkbox", { name: "W.A. together with others" }).check();
  await page.getByRole("checkbox", { name: "E.K. together with others" }).check();
  await page.getByRole("checkbox", { name: "P.N. together with others" }).check();
  const goals = (initials: string) => page.getByRole("list", { name: `Goals of ${initials}` });
  await choose(page, "W.A.", /Two-digit subtraction/);
  await choose(page, "E.K.", /Counts out coins/);
  await choose(page, "P.N.", /start of words/);
  await page.getByRole("button", { name: "Start together" }).click();
  await sitting(page).waitFor();
  // The tab of the browser and the address say nothing of a child.
  await expect(page).toHaveTitle("Sitting · W.A., E.K., P.N. · Gentle Margin");
  expect(new URL(page.url()).pathname).toBe("/record");
  await expect(page.getByText("Wren", { exact: false })).toHaveCount(0);
  await expect(page.getByText(/W\.A\. will solve them/)).toBeAttached();

  const wren = panel(page, /Two-digit subtraction/);
  for (const key of ["1", "0", "1", "u"]) await page.keyboard.press(key);
  await expect(wren.getByText("of 2 so far", { exact: true })).toBeVisible();
  await page.keyboard.press("ArrowRight");
  const coins = panel(page, /Counts out coins/);
  for (const key of ["1", "1", "1"]) await page.keyboard.press(key);
  await expect(coins.getByText("of 3 so far", { exact: true })).toBeVisible();
  await page.keyboard.press("n");
  await page.keyboard.type("with the tray; 1 more at lunch");
  await expect(coins.getByText("of 3 so far", { exact: true })).toBeVisible();
  await panel(page, /start of words/)
    .getByRole("button", { name: "Refused" })
    .click();

  await page.getByRole("button", { name: "Finish" }).click();
  await expect(page.getByRole("region", { name: "W.A." })).toContainText(/1\sof\s2 correct/);
  await expect(page.getByRole("region", { name: "E.K." })).toContainText(/3\sof\s3 correct/);
  await expect(page.getByRole("region", { name: "P.N." })).toContainText("not measured, refused");
  await page.getByRole("button", { name: /^Save \d lines/ }).click();
  await expect(page.getByRole("heading", { name: "The sitting is saved" })).toBeVisible();
  await expect(page.getByRole("region", { name: "E.K." })).toContainText("with the tray; 1 more at lunch");
  await expect(page.getByText("in the report").first()).toBeVisible();
  await expectAccessible(page, "what was kept");

  const kept = await site
    .owner("entries")
    .whereNotNull("sitting_id")
    .select("note", "device_at", "numerator", "author_id");
  expect(kept.map(numeratorOf).sort()).toEqual([1, 3]);
  expect(kept.every(({ device_at }) => device_at !== null)).toBe(true);
  expect(await site.owner("not_measured").select("reason")).toEqual([{ reason: "refused" }]);
  expect(await site.owner("sittings").count({ n: "*" }).first()).toMatchObject({ n: "1" });
  // The next sitting of the same students begins with the same goals.
  await page.getByRole("link", { name: "New sitting" }).click();
  await expect(goals("P.N.").getByRole("checkbox", { name: /start of words/ })).toBeChecked();
});

test("what was not measured stays not measured; a grid broken off is not finished; absent is noted for the day", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  await page.goto("/record");
  await recording(page);
  const goals = page.getByRole("list", { name: "Goals of J.R." });
  await goals.getByRole("checkbox", { name: /Packs the school bag/ }).check();
  await goals.getByRole("checkbox", { name: /Asks for help/ }).check();
  await page.getByRole("button", { name: "Start with J.R." }).click();
  await sitting(page).waitFor();
  await page.getByRole("button", { name: /Packs the school bag/ }).click();
  // After an undo the next key marks the row that was undone.
  for (const key of "123u4") await page.keyboard.press(key);
  const marked = page
    .locator("[data-shown] [data-row]")
    .evaluateAll((rows) =>
      rows.slice(0, 4).map((row) => row.querySelector<HTMLInputElement>("input:checked")?.dataset["key"]),
    );
  expect(await marked).toEqual(["1", "2", "4", undefined]);
  await page.keyboard.press("u");
  await page.getByRole("button", { name: "Finish" }).click();
  const review = page.getByRole("region", { name: "J.R." });
  await expect(review).toContainText(/\d of \d+ steps not marked/);
  await expect(review).toContainText("not finished, 2 of");
  await expect(review.getByRole("listitem").filter({ hasText: "Asks for help" })).toContainText(
    "not measured",
  );
  await review.getByRole("button", { name: "The rest was not reached" }).click();
  await expect(review).not.toContainText("not finished");
  await review.getByRole("button", { name: "Broken off after all" }).click();
  await page.getByRole("button", { name: "Save 1 line" }).click();
  await expect(page).toHaveURL(/saved=/);
  const [entry] = await site.owner("entries").whereNotNull("sitting_id").select("value", "entry");
  expect(entry).toMatchObject({ value: null, entry: { finished: false } });

  await page.goto("/record");
  await page.getByRole("button", { name: "Start with L.S." }).click();
  await page.getByRole("button", { name: "Absent" }).click();
  await page.getByRole("button", { name: "Finish" }).click();
  await page.getByRole("button", { name: "Save 1 line" }).click();
  await expect(page.getByText("in the report")).toBeVisible();
  expect(await site.owner("absences").where({ student_id: site.demo.student("Lumi") })).toHaveLength(1);
});

test("a bout's clock is right after the device slept, and intervals that passed meanwhile are not observed", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  await page.clock.install();
  await page.goto("/record");
  await recording(page);
  await choose(page, "I.L.", /Stays with the group/);
  await page.getByRole("button", { name: "Start with I.L." }).click();
  await sitting(page).waitFor();
  const bouts = panel(page, /Stays with the group/);
  await bouts.getByRole("button", { name: /A bout begins/ }).click();
  // Asleep: timers do not run, the clock does.
  await page.clock.fastForward("07:00");
  await bouts.getByRole("button", { name: /It stopped/ }).click();
  await expect(bouts.getByRole("list", { name: "Bouts" })).toContainText(/7:0\d/);

  await page.goto("/record");
  await choose(page, "H.M.", /On task in group work/);
  await page.getByRole("button", { name: "Start with H.M." }).click();
  await sitting(page).waitFor();
  const { rows } = await site.owner.raw<{ rows: { seconds: number }[] }>(
    `select (measure ->> 'intervalSeconds')::int as seconds from goal_measures where goal_id = ?`,
    [site.demo.goal("Hollis", "3")],
  );
  const seconds = rows[0]?.seconds ?? 0;
  const onTask = panel(page, /On task in group work/);
  await onTask.getByRole("button", { name: /^Start/ }).click();
  await page.clock.runFor(seconds * 1000 + 500);
  await page.keyboard.press("1");
  await page.clock.fastForward(seconds * 3000);
  await page.keyboard.press("0");
  await expect(onTask.getByLabel("Intervals so far")).toHaveText("✓ · · –");
});

test("two devices that record the same student at once both count", async ({ page, browser, site }) => {
  const context = await browser.newContext({ baseURL: site.web.url, serviceWorkers: "block" });
  const other = await context.newPage();
  await signIn(page, "noor");
  await signIn(other, "ines");
  const goal = `/students/${site.demo.student("Wren")}/goals/${site.demo.goal("Wren", "2b")}`;
  for (const one of [page, other]) {
    await one.goto(goal);
    await one.locator(".notebook[data-ready]").waitFor();
    await one.keyboard.press("r");
    await sitting(one).waitFor();
    for (let trial = 0; trial < 10; trial += 1) await one.keyboard.press(one === page ? "1" : "0");
  }
  await Promise.all(
    [page, other].map(async (one) => {
      await one.getByRole("button", { name: /^Save/ }).click();
      await expect(one).toHaveURL(/saved=/);
    }),
  );
  const kept = await site.owner("entries").whereNotNull("sitting_id").select("numerator");
  expect(kept.map(numeratorOf).sort()).toEqual([0, 10]);
  await context.close();
});

test("a sitting is open in one tab at a time, and goes on where it was left", async ({ page, context }) => {
  await signIn(page, "noor");
  await page.goto("/record");
  await recording(page);
  await choose(page, "W.A.", /Two-digit subtraction/);
  await page.getByRole("button", { name: "Start with W.A." }).click();
  await sitting(page).waitFor();
  await page.keyboard.press("1");
  const address = page.url();
  const other = await context.newPage();
  await other.goto(address);
  await expect(other.getByRole("heading", { name: "This sitting is open in another tab" })).toBeVisible();
  await page.getByRole("button", { name: "Leave open" }).click();
  await expect(page.getByText("Still open")).toBeVisible();
  await other.reload();
  await sitting(other).waitFor();
  await expect(other.getByText("of 1 so far", { exact: true })).toBeVisible();
  await other.close();
  await page.reload();
  await page.getByRole("button", { name: "Throw away …" }).click();
  await page.getByRole("button", { name: "Throw away", exact: true }).click();
  await expect(page.getByText("Still open")).toHaveCount(0);
});
