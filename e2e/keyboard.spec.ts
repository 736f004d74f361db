import type { Locator } from "@playwright/test";
import { awake, expect, margin, readOnly, recording, signIn, test } from "./site.ts";

readOnly("a student, a goal or an action is found by any part of its words", async ({ page, site }) => {
  await signIn(page, "noor");
  await page.goto("/caseload");
  await awake(page);
  await page.keyboard.press("Control+k");
  await page.getByRole("dialog").getByRole("combobox").fill("record nobody");
  await expect(page.getByText("Nothing of yours has these words.")).toBeVisible();
  await page.getByRole("dialog").getByRole("combobox").fill("otis record mail");
  await expect(page.getByRole("dialog").getByRole("option")).toHaveText([
    /Record 1b Sorts mail at the school office/,
  ]);
  await page.keyboard.press("Enter");
  await expect(page).toHaveURL(new RegExp(`${site.demo.goal("Otis", "1b")}/record`));
});

test("a probe is recorded from the caseload without a mouse", async ({ page }) => {
  await signIn(page, "noor");
  await page.goto("/caseload");
  await awake(page);
  await page.keyboard.press("Control+k");
  await page.getByRole("dialog").getByRole("combobox").fill("elowen");
  await expect(page.getByRole("dialog").getByRole("option").first()).toContainText("Elowen Kerr");
  await page.keyboard.press("Enter");
  await expect(page.getByRole("main").getByRole("link", { name: "Elowen Kerr", exact: true })).toBeVisible();
  await expect(page.getByRole("dialog")).toBeHidden();
  await page.keyboard.press("r");
  await recording(page);
  await expect(page.getByRole("heading", { name: /^Sitting/ })).toBeVisible();
  for (const key of ["1", "1", "0", "u", "0", "1"]) await page.keyboard.press(key);
  await page.keyboard.press("n");
  await page.keyboard.type("u10: letters are letters while typing");
  await expect(page.getByText("3 of 4 so far").or(page.getByText("of 4 so far")).first()).toBeVisible();
  // Four of ten are fewer than planned: that is asked about first.
  await page.getByRole("button", { name: "Finish" }).focus();
  await page.keyboard.press("Enter");
  await expect(page.getByText("4 of 10 planned: shown, not counted toward the criterion")).toBeVisible();
  await page.getByRole("button", { name: "Save 1 line" }).focus();
  await page.keyboard.press("Enter");
  await expect(margin(page).getByRole("listitem").first()).toContainText(
    "3 of 4 correct (75%). u10: letters are letters while typing",
  );
  await awake(page);
  await page.keyboard.press("g");
  await page.keyboard.press("c");
  await expect(page.getByRole("heading", { name: "Caseload" })).toBeVisible();
});

readOnly("the chart is stepped through with arrow keys and opens an entry", async ({ page, site }) => {
  await signIn(page, "noor");
  await page.goto(`/students/${site.demo.student("Wren")}`);
  const chart = page.locator("canvas");
  await chart.focus();
  await page.keyboard.press("End");
  await expect(chart).toHaveRole("slider");
  const last = (await chart.getAttribute("aria-valuetext")) ?? "";
  expect(last).toMatch(/%/);
  await page.keyboard.press("ArrowLeft");
  await expect(chart).not.toHaveAttribute("aria-valuetext", last);
  const most = Number(await chart.getAttribute("aria-valuemax"));
  expect(most).toBeGreaterThan(5);
  await page.keyboard.press("Home");
  await expect(chart).toHaveAttribute("aria-valuenow", "1");
  await expect(chart).toHaveAttribute("aria-valuetext", /^\w{3}, \w{3} \d+: \d+%, \d+\sof\s10$/);
  await page.keyboard.press("Enter");
  await expect(page.getByRole("region", { name: "Entry" })).toBeVisible();
});

readOnly(
  "a dialog gives the focus back, and a key pressed in it does nothing behind it",
  async ({ page }) => {
    await signIn(page, "noor");
    await page.goto("/caseload");
    await awake(page);
    // A closed dialog tells of it a moment later, and its field has the focus until the next frame: a key pressed in between counts, with a dialog that is still to be loaded.
    await page.keyboard.press("Control+k");
    await page.getByRole("dialog").getByRole("combobox").waitFor();
    await page.evaluate(() => {
      const focused = document.activeElement;
      document.querySelector("dialog")?.close();
      focused?.dispatchEvent(new KeyboardEvent("keydown", { key: "?", bubbles: true }));
    });
    await expect(page.getByRole("heading", { name: "Help" })).toBeVisible();
    await page.keyboard.press("Escape");
    await expect(page.getByRole("dialog")).toHaveCount(0);
    await page.getByRole("button", { name: "Help ?" }).click();
    await page.keyboard.press("g");
    await page.keyboard.press("?");
    await expect(page.getByRole("dialog")).toHaveCount(1);
    await page.keyboard.press("Escape");
    await expect(page.getByRole("dialog")).toHaveCount(0);
    await expect(page.getByRole("button", { name: "Help ?" })).toBeFocused();
  },
);

test("a goal is set up, put in order and taken along without a mouse", async ({ page, site }) => {
  await signIn(page, "noor");
  await page.goto("/caseload");
  await awake(page);
  await page.keyboard.press("Control+k");
  await expect(page.getByRole("dialog").getByRole("combobox")).toBeFocused();
  await page.keyboard.type("wren new goal");
  await expect(page.getByRole("dialog").getByRole("option", { name: /Wren Abara: new goal/ })).toBeVisible();
  await page.keyboard.press("Enter");
  await expect(page.getByRole("heading", { name: "New goal" })).toBeVisible();
  await awake(page);
  /** Tab on to a field, as a person would, and no further than the page is long. */
  const tabTo = async (field: Locator) => {
    for (let steps = 0; steps < 60; steps += 1) {
      await page.keyboard.press("Tab");
      if (await field.evaluate((element) => element === document.activeElement)) return;
    }
    throw new Error("it cannot be reached with Tab");
  };
  await tabTo(page.getByLabel("Wording", { exact: true }));
  await page.keyboard.type(
    "By May 14, 2027, Wren will line up within 30 seconds of the bell in 4 of 5 transitions on 3 of 4 days.",
  );
  await expect(page.getByLabel("Kind")).toHaveValue("latency");
  await tabTo(page.getByLabel("Short name"));
  await page.keyboard.press("Control+a");
  await page.keyboard.type("Lines up at the bell");
  await tabTo(page.getByLabel("Thursday"));
  await page.keyboard.press("Space");
  await tabTo(page.getByRole("button", { name: "Save the goal" }));
  await page.keyboard.press("Enter");
  await expect(page.getByRole("main").getByRole("link", { name: "Wren Abara", exact: true })).toBeVisible();
  await expect(page.getByText(/measured on Thursdays/)).toBeVisible();

  await page.goto(`/students/${site.demo.student("Wren")}/order`);
  await awake(page);
  await tabTo(page.getByRole("button", { name: "Lines up at the bell one up" }));
  await page.keyboard.press("Enter");
  await page.keyboard.press("Enter");
  // What was put in order stands there again after a reload, and is dragged by keys on its handle too.
  const numbers = page.getByRole("textbox", { name: /^Number of/ });
  const order = () => numbers.evaluateAll((all) => all.map((one) => one.getAttribute("aria-label")));
  const made = await order();
  await page.reload();
  await expect(page.getByText("What you typed here before is not saved yet.")).toBeVisible();
  await expect.poll(order).toEqual(made);
  const handle = page.getByRole("button", { name: /^Move .*Lines up at the bell$/ });
  await handle.focus();
  await page.keyboard.press("Space");
  await page.keyboard.press("ArrowUp");
  await expect(page.getByText(/Lines up at the bell is at place \d+ of/)).toBeAttached();
  await page.keyboard.press("Escape");
  await expect.poll(order).toEqual(made);
  await tabTo(page.getByRole("button", { name: "Save order and numbers" }));
  await page.keyboard.press("Enter");
  await expect(page.getByRole("list", { name: "Other goals" }).getByRole("listitem").first()).toContainText(
    "Lines up at the bell",
  );

  await page.goto(`/students/${site.demo.student("Wren")}/copy`);
  await awake(page);
  await tabTo(page.getByLabel("For", { exact: true }));
  await page.keyboard.type("Yara");
  await expect(page.getByLabel(/^Wording of 2b/)).toHaveValue(/Yara will solve/);
  await tabTo(page.getByRole("checkbox", { name: /Two-digit subtraction/ }));
  await page.keyboard.press("Space");
  await tabTo(page.getByRole("button", { name: "Copy 3 goals" }));
  await page.keyboard.press("Enter");
  await expect(
    page.getByRole("main").getByRole("link", { name: "Yara Dimitrov", exact: true }),
  ).toBeVisible();
  await expect(page.getByRole("region", { name: /^Goal/ })).toContainText("Yara will");
});

readOnly("the drawer of the report closes by Escape and gives the focus back", async ({ page, site }) => {
  await signIn(page, "noor");
  await page.setViewportSize({ width: 820, height: 1180 });
  await page.goto(`/students/${site.demo.student("Wren")}`);
  await awake(page);
  const drawer = page.getByRole("complementary", { name: "Wren’s report" });
  await expect(drawer).toBeHidden();
  const open = page.getByRole("link", { name: /^Lines ·/ });
  await open.focus();
  await page.keyboard.press("Enter");
  await expect(drawer).toBeVisible();
  await page.keyboard.press("Escape");
  await expect(drawer).toBeHidden();
  await expect(open).toBeFocused();
});
