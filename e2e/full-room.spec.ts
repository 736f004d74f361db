import { awake, expect, margin, recording, signIn, test } from "./site.ts";

test("a sitting of twelve: three panels in view beside a strip to jump, and the page stays short", async ({
  page,
}) => {
  await signIn(page, "noor");
  await page.goto("/record");
  await recording(page);
  const boxes = page.getByRole("checkbox", { name: /together with others$/ });
  for (let at = 0; at < 12; at += 1) await boxes.nth(at).check();
  await page.getByRole("button", { name: "Start together" }).click();
  await page.getByRole("heading", { name: /^Sitting · 12 students/ }).waitFor();
  const strip = page.getByRole("navigation", { name: "Students of this sitting" });
  await expect(strip.getByRole("button")).toHaveCount(12);
  const panels = page.locator(".sitting-column:visible");
  await expect(panels).toHaveCount(3);
  expect(await page.evaluate(() => document.documentElement.scrollHeight)).toBeLessThan(1000);
  const last = (await strip.getByRole("button").last().innerText()).trim();
  await strip.getByRole("button").last().click();
  await expect(page.getByRole("region", { name: last, exact: true })).toBeVisible();
  await expect(panels).toHaveCount(3);
  // Back over the first of these three: the three before come into view.
  for (let back = 0; back < 3; back += 1) await page.keyboard.press("ArrowLeft");
  await expect(page.getByRole("region", { name: last, exact: true })).toBeHidden();
  await expect(panels).toHaveCount(3);
  await page.setViewportSize({ width: 390, height: 844 });
  await expect(panels).toHaveCount(1);
});

test("the panel shows where credit ends, the purpose and the setting; the rare mark is not the largest", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  await page.goto(`/students/${site.demo.student("Wren")}/goals/${site.demo.goal("Wren", "3")}`);
  await awake(page);
  await page.keyboard.press("r");
  await page.getByRole("heading", { name: /^Sitting/ }).waitFor();
  const { rows } = await site.owner.raw<{ rows: { measure: { credited: string; misses: string[] } }[] }>(
    "select measure from goal_measures where goal_id = ? order by version desc limit 1",
    [site.demo.goal("Wren", "3")],
  );
  const credited = rows[0]?.measure.credited ?? "";
  const ends = page.locator(".credit-ends");
  await expect(ends).toContainText(credited);
  expect(await ends.evaluate((row) => getComputedStyle(row, "::after").content)).toContain(
    "credited up to here",
  );
  await expect(page.getByRole("region", { name: /^Goal 3/ })).toContainText("probe");
  await page.getByLabel("Setting").selectOption({ index: 1 });
  const setting = await page.getByLabel("Setting").locator("option:checked").innerText();
  await expect(page.getByRole("region", { name: /^Goal 3/ })).toContainText(`probe · ${setting}`);

  // Each line of the review leads back to its panel.
  await page.keyboard.press("1");
  await page.getByRole("button", { name: "Finish" }).click();
  await page.getByRole("button", { name: /^3 Asks for a break/ }).click();
  await expect(page.getByRole("region", { name: /^Goal 3/ })).toBeVisible();

  // In a grid a mark that is rare has no more room than the others.
  await page.setViewportSize({ width: 390, height: 844 });
  const steps = await site
    .owner("goal_measures as m")
    .join("goals as g", "g.goal_id", "m.goal_id")
    .whereRaw("m.measure ->> 'kind' = 'steps' and jsonb_array_length(m.measure -> 'misses') > 0")
    .first<{ goal_id: string; student_id: string }>("g.goal_id", "g.student_id");
  await page.goto(`/students/${steps?.student_id}/goals/${steps?.goal_id}`);
  await awake(page);
  await page.keyboard.press("r");
  const row = page.locator("[data-row]").first();
  await row.waitFor();
  const wide = (which: string) =>
    row.locator(which).evaluateAll((all) => all.map((one) => one.getBoundingClientRect().width));
  const levels = await wide(".mark:not(.mark-miss)");
  expect(Math.max(...(await wide(".mark-miss")))).toBeLessThanOrEqual(Math.max(...levels));
});

test("what was saved can be undone for ten seconds, and is then put back from its notice", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  await page.goto(`/students/${site.demo.student("Elowen")}/goals/${site.demo.goal("Elowen", "1")}`);
  await awake(page);
  await page.keyboard.press("r");
  await page.getByRole("heading", { name: /^Sitting/ }).waitFor();
  for (let marked = 0; marked < 10; marked += 1) await page.keyboard.press("1");
  await page.getByRole("button", { name: /^Save 10/ }).click();
  const notice = page.getByRole("form", { name: "Just saved" });
  await expect(notice).toContainText("10 of 10 correct");
  await notice.getByRole("button", { name: "Undo" }).click();
  await expect(page.getByText(/^Removed: /)).toBeVisible();
  await expect(margin(page).getByText(/10\sof\s10 correct/)).toHaveCount(0);
  await page.getByRole("button", { name: "Take that back" }).click();
  await expect(margin(page).getByText(/10\sof\s10 correct/)).toBeVisible();
  // What was put back is no fresh entry: there is no notice, and after ten seconds there is none of a fresh one either.
  await page.keyboard.press("r");
  await page.getByRole("heading", { name: /^Sitting/ }).waitFor();
  for (let marked = 0; marked < 10; marked += 1) await page.keyboard.press("1");
  await page.getByRole("button", { name: /^Save 10/ }).click();
  await expect(notice).toBeVisible();
  await expect(notice).toBeHidden({ timeout: 15_000 });
});

test("a sitting of several students and an incident are undone for ten seconds, and are open again as they were", async ({
  page,
  context,
  site,
}) => {
  await signIn(page, "noor");
  await page.goto("/record");
  await recording(page);
  const boxes = page.getByRole("checkbox", { name: /together with others$/ });
  for (const at of [0, 1]) await boxes.nth(at).check();
  await page.getByRole("button", { name: "Start together" }).click();
  await page.getByRole("heading", { name: /^Sitting · A\.B\., C\.D\./ }).waitFor();
  for (let marked = 0; marked < 4; marked += 1) await page.keyboard.press("1");
  const counted = page.getByText(/of 4 so far/).first();
  await expect(counted).toBeVisible();
  const save = async () => {
    await page
      .getByRole("button", { name: /^Finish/ })
      .first()
      .click();
    await page.getByRole("button", { name: /^Save/ }).first().click();
  };
  const states = () =>
    site.owner("entries").whereRaw("sitting_id is not null").orderBy("saved_at").pluck("state");
  const before = (await states()).length;
  // Without a network it is undone all the same, and sent in its order once there is one.
  await context.setOffline(true);
  await save();
  await page.getByRole("heading", { name: "The sitting is saved" }).waitFor();
  await page.getByRole("button", { name: "Undo, back to the sitting" }).click();
  await page.getByRole("heading", { name: /^Sitting · A\.B\., C\.D\./ }).waitFor();
  await expect(counted).toBeVisible();
  await context.setOffline(false);
  await page.evaluate(() => dispatchEvent(new Event("online")));
  await expect.poll(async () => (await states()).slice(before)).toEqual(["removed"]);
  await page.keyboard.press("1");
  await expect(page.getByText(/of 5 so far/).first()).toBeVisible();
  await save();
  await expect.poll(async () => (await states()).slice(before)).toEqual(["removed", "kept"]);

  const wren = site.demo.student("Wren");
  await page.goto(`/record?incident=${wren}`);
  const chosen = page.getByRole("button", { name: "hitting or kicking" });
  await chosen.click();
  await page.getByRole("button", { name: /^More/ }).click();
  await page.getByLabel("Note").fill("by the sink");
  await page.getByRole("button", { name: /^Save$/ }).click();
  const kept = () =>
    site.owner("incidents").where({ note: "by the sink" }).orderBy("saved_at").pluck("state");
  await expect.poll(kept).toEqual(["kept"]);
  const undo = page.getByRole("button", { name: "Undo, back to it" });
  await undo.click();
  await expect(chosen).toHaveAttribute("aria-pressed", "true");
  await expect(page.getByLabel("Note")).toHaveValue("by the sink");
  await expect.poll(kept).toEqual(["removed"]);
  await page.getByRole("button", { name: /^Save$/ }).click();
  await expect.poll(kept).toEqual(["removed", "kept"]);
  await expect(undo).toBeVisible();
  await expect(undo).toBeHidden({ timeout: 15_000 });
});

test("an incident takes at most seven acts from Today and from the caseload, on desk and phone", async ({
  page,
}) => {
  await signIn(page, "noor");
  for (const [width, height] of [
    [1280, 800],
    [390, 844],
  ] as const) {
    await page.setViewportSize({ width, height });
    for (const from of ["/today", "/caseload"]) {
      await page.goto(from);
      await awake(page);
      let acts = 0;
      const act = async (name: string | RegExp, role: "button" | "link" = "button") => {
        acts += 1;
        await page.getByRole(role, { name }).first().click();
      };
      await act("Incident", "link");
      await page.getByRole("heading", { name: /^Incident/ }).waitFor();
      await act(/W\.A\./);
      await act("hitting or kicking");
      await act("change from a liked to a disliked task");
      await act("a break");
      await act(/^Save$/);
      await expect(page.getByRole("region", { name: "Incident saved" })).toBeVisible();
      expect(acts).toBeLessThanOrEqual(7);
    }
  }
});

test("an incident from the middle of a sitting takes at most seven taps, and the sitting goes on", async ({
  page,
  site,
}) => {
  for (const [width, height] of [
    [1280, 800],
    [390, 844],
  ] as const) {
    await page.setViewportSize({ width, height });
    await signIn(page, "noor");
    await page.goto(`/students/${site.demo.student("Wren")}/goals/${site.demo.goal("Wren", "2b")}`);
    await awake(page);
    await page.keyboard.press("r");
    await page.getByRole("heading", { name: /^Sitting/ }).waitFor();
    await page.keyboard.press("1");
    let taps = 0;
    const tap = async (name: string | RegExp) => {
      taps += 1;
      await page.getByRole("button", { name }).first().click();
    };
    await tap("Incident");
    await page.getByRole("heading", { name: /^Incident/ }).waitFor();
    await tap("hitting or kicking");
    await tap(/^Save$/);
    await expect(page.getByRole("region", { name: "Incident saved" })).toBeVisible();
    await tap("Back");
    await expect(page.getByText(/of 1 so far/).first()).toBeVisible();
    expect(taps).toBeLessThanOrEqual(7);
  }
});

test("past observations: whose they are, a row for each goal, a date that fills down, what is wrong at its field until it is mended; eight rows without a mouse", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  const wren = site.demo.student("Wren");
  await page.goto(`/past?student=${wren}`);
  await awake(page);
  await expect(page.getByText("Wren Abara", { exact: true })).toBeVisible();
  const tab = page.getByRole("navigation", { name: "Students" }).getByRole("link", { name: /Wren Abara/ });
  await expect(tab).toHaveAttribute("aria-current", "page");
  await page.getByRole("button", { name: /^A row for each goal of W\.A\./ }).click();
  const goals = page.getByRole("combobox", { name: /^Goal, row / });
  const count = await goals.count();
  const chosen = await goals.evaluateAll((all) => all.map((one) => (one as HTMLSelectElement).value));
  expect(new Set(chosen.filter(Boolean)).size).toBe(chosen.filter(Boolean).length);
  expect(count).toBeGreaterThanOrEqual(3);

  // The date of the first row goes down to the rows that are not written yet.
  const dates = page.getByLabel(/^Date, row /);
  await page.getByLabel("Observed, row 2").fill("7/10");
  await dates.first().fill("2026-11-20");
  await expect(dates.nth(1)).not.toHaveValue("2026-11-20");
  await expect(dates.nth(2)).toHaveValue("2026-11-20");

  // What is wrong stands at its field, and goes when the field is changed.
  await dates.nth(1).fill("2030-01-07");
  await page.getByRole("button", { name: "Save all rows" }).click();
  await expect(dates.nth(1)).toHaveAttribute("aria-invalid", "true");
  await dates.nth(1).fill("2026-11-19");
  await expect(dates.nth(1)).not.toHaveAttribute("aria-invalid", "true");

  // Eight rows by keys alone.
  await page.goto(`/past?student=${wren}&goal=${site.demo.goal("Wren", "2b")}`);
  await awake(page);
  if (await page.getByRole("button", { name: "Start over" }).isVisible())
    await page.getByRole("button", { name: "Start over" }).click();
  const first = page.getByLabel("Observed, row 1");
  await first.focus();
  await page.getByRole("combobox", { name: "Goal, row 1" }).selectOption(site.demo.goal("Wren", "2b"));
  await first.focus();
  for (let row = 1; row <= 8; row += 1) {
    await expect(page.getByLabel(`Observed, row ${row}`)).toBeFocused();
    await page.keyboard.type(`${row}/10`);
    if (row < 8) await page.keyboard.press("Enter");
  }
  const before = await site.owner("entries").where({ student_id: wren }).count({ n: "*" }).first();
  await page.keyboard.press("Control+Enter");
  await expect(page.getByText("8 entries saved and added to the reports.")).toBeVisible();
  const after = await site.owner("entries").where({ student_id: wren }).count({ n: "*" }).first();
  expect(Number(after?.["n"]) - Number(before?.["n"])).toBe(8);
});
