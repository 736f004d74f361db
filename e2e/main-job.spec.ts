import type { Locator, Page } from "@playwright/test";
import { awake, choose, expect, margin, recording, signIn, test } from "./site.ts";

/** Tab on to it as a person would, with something in focus at every step. */
async function tabTo(page: Page, goal: Locator, back = false): Promise<void> {
  for (let steps = 0; steps < 150; steps += 1) {
    await page.keyboard.press(back ? "Shift+Tab" : "Tab");
    if (await goal.evaluate((element) => element === document.activeElement)) return;
  }
  throw new Error(`${String(goal)} cannot be reached with Tab`);
}

/** The heading of the view has the focus, and the tab has its name. */
async function arrivedAt(page: Page, title: RegExp | string): Promise<void> {
  const heading = page.getByRole("heading", { level: 1, name: title });
  await expect(heading).toBeFocused();
  await expect(page).toHaveTitle(title);
}

/** Everything that assistive technology was told since the page was loaded, in order. */
async function listen(page: Page): Promise<() => Promise<string[]>> {
  await page.addInitScript(() => {
    const told: string[] = [];
    Object.assign(window, { told });
    new MutationObserver((changes) => {
      for (const { target } of changes) {
        const place = (target instanceof Element ? target : target.parentElement)?.closest("#said");
        if (place?.textContent) told.push(place.textContent);
      }
    }).observe(document, { childList: true, characterData: true, subtree: true });
  });
  return () =>
    page.evaluate(() =>
      (window as unknown as { told: string[] }).told.map((words) => words.replaceAll("\u00a0", " ").trim()),
    );
}

const goalOfWren = /^Two-digit subtraction · W\.A\./;

test("the main job by keyboard alone: start, record, incident, correct, decide, order; the focus is somewhere at every step", async ({
  page,
}) => {
  await signIn(page, "noor");
  await page.goto("/caseload");
  await awake(page);
  await page.keyboard.press("Control+k");
  await expect(page.getByRole("dialog").getByRole("combobox")).toBeFocused();
  await page.keyboard.type("wren two-digit");
  await expect(page.getByRole("dialog").getByRole("option").first()).toContainText("Two-digit");
  await page.keyboard.press("Enter");
  await arrivedAt(page, goalOfWren);

  // Start and record.
  await page.keyboard.press("r");
  await arrivedAt(page, /^Sitting · W\.A\./);
  for (const key of ["1", "1", "0", "u", "0"]) await page.keyboard.press(key);
  await tabTo(page, page.getByRole("button", { name: "Finish" }));
  await page.keyboard.press("Enter");
  await arrivedAt(page, /^Review before saving/);
  await tabTo(page, page.getByRole("button", { name: "Save 1 line" }));
  await page.keyboard.press("Enter");
  await arrivedAt(page, goalOfWren);
  const line = margin(page).getByRole("listitem").first();
  await expect(line).toContainText("2 of 3 correct (67%)");

  // Correct it, from the margin.
  await tabTo(page, line.getByRole("link"));
  await page.keyboard.press("Enter");
  await arrivedAt(page, /^Entry of .* · W\.A\./);
  await tabTo(page, page.getByLabel("Note"));
  await page.keyboard.type("with the hundreds chart");
  await tabTo(page, page.getByRole("button", { name: "Save the correction" }));
  await page.keyboard.press("Enter");
  await expect(line).toContainText("with the hundreds chart");
  await expect(page.getByRole("heading", { level: 1 })).toBeFocused();

  // An incident.
  await page.keyboard.press("i");
  await arrivedAt(page, /^Incident/);
  await recording(page);
  const behavior = page.getByRole("button", { name: "hitting or kicking" });
  await tabTo(page, behavior);
  await page.keyboard.press("Space");
  await expect(behavior).toHaveAttribute("aria-pressed", "true");
  await expect(behavior).toBeFocused();
  await tabTo(page, page.getByRole("button", { name: "Save", exact: true }));
  await page.keyboard.press("Enter");
  await expect(page.getByRole("region", { name: "Incident saved" })).toContainText("Hitting or kicking");
  await expect(page.locator("body")).not.toBeFocused();

  // Decide.
  await tabTo(page, page.getByRole("button", { name: "Back", exact: true }), true);
  await page.keyboard.press("Enter");
  await arrivedAt(page, goalOfWren);
  await awake(page);
  await tabTo(page, page.getByText("Record a decision"));
  await page.keyboard.press("Enter");
  await tabTo(page, page.getByRole("radio", { name: "Keep going" }));
  await page.keyboard.press("Space");
  await tabTo(page, page.getByLabel("Why"));
  await page.keyboard.type("Two more weeks with the chart.");
  await tabTo(page, page.getByRole("button", { name: "Add to report" }));
  await page.keyboard.press("Enter");
  await expect(margin(page)).toContainText("Two more weeks with the chart.");
  await expect(page.getByRole("heading", { level: 1 })).toBeFocused();

  // Order.
  await tabTo(page, page.getByRole("link", { name: "Order and numbers" }));
  await page.keyboard.press("Enter");
  await arrivedAt(page, /^Order and numbers · W\.A\./);
  await awake(page);
  const down = page.getByRole("button", { name: /^Two-digit subtraction.* one down$/ });
  await tabTo(page, down);
  await page.keyboard.press("Enter");
  await expect(page.locator("body")).not.toBeFocused();
  await tabTo(page, page.getByRole("button", { name: "Save order and numbers" }));
  await page.keyboard.press("Enter");
  await arrivedAt(page, / · W\.A\./);
});

test("the main job by ear: views, marks, what was saved, corrected and decided are announced", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  const told = await listen(page);
  const goal = site.demo.goal("Wren", "2b");
  await page.goto(`/students/${site.demo.student("Wren")}/goals/${goal}`);
  await awake(page);
  expect(await told()).toEqual([]);
  const heard = (words: string | RegExp) =>
    expect.poll(async () => (await told()).at(-1) ?? "").toMatch(words);

  await page.keyboard.press("r");
  await heard("Sitting · W.A.");
  for (const [key, words] of [
    ["1", "W.A., correct, 1 of 1"],
    ["1", "W.A., correct, 2 of 2"],
    ["0", "W.A., not yet, 2 of 3"],
    ["u", "W.A., undone: not yet, 2 of 2"],
    ["1", "W.A., correct, 3 of 3"],
  ] as const) {
    await page.keyboard.press(key);
    await heard(words);
  }
  await page.getByRole("button", { name: "Finish" }).click();
  await heard("Review before saving");
  await page.getByRole("button", { name: "Save 1 line" }).click();
  await heard(/Saved: .*3 of 3 correct/);
  expect((await told()).join("\n")).toMatch(/Two-digit subtraction.* · W\.A\./);

  await margin(page).getByRole("listitem").first().getByRole("link").click();
  await heard(/^Entry of .* · W\.A\.$/);
  await page.getByLabel("Note").fill("on the carpet");
  await page.getByRole("button", { name: "Save the correction" }).click();
  await heard(/^Two-digit subtraction · W\.A\.; Saved: .*3 of 3 correct/);

  await page.keyboard.press("i");
  await heard("Incident");
  await page.getByRole("button", { name: "hitting or kicking" }).click();
  await page.getByRole("button", { name: "Save", exact: true }).click();
  await heard(/^Saved: Hitting or kicking/);

  // Two students, and a grid: who has the keys, and what of it is left.
  await page.goto("/record");
  await recording(page);
  await choose(page, "W.A.", /Two-digit subtraction/);
  await choose(page, "E.K.", /^1 /);
  for (const who of ["W.A.", "E.K."]) await page.getByLabel(`${who} together with others`).check();
  await page.getByRole("button", { name: "Start together" }).click();
  await page.getByRole("heading", { name: /^Sitting/ }).waitFor();
  await page.keyboard.press("ArrowRight");
  await heard(/E\.K\., 1 Counts out coins/);
  await page.keyboard.press("0");
  await heard(/^E\.K\., /);
  await expect(page.getByRole("region", { name: "E.K.", exact: true })).toBeVisible();
  await expect(page.getByRole("button", { name: /^Undo ?, W\.A\.$/ })).toHaveCount(1);
  await expect(page.getByRole("button", { name: /^Undo ?, E\.K\.$/ })).toHaveCount(1);
});
