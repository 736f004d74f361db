import { execFileSync } from "node:child_process";
import { readFileSync, writeFileSync } from "node:fs";
import { awake, expect, expectAccessible, margin, readOnly, signIn, test } from "./site.ts";

const shownDigits = 3;

/** What stands at `comparisons.0.nap` in the output of the command, as the panel shows it. */
function shownAt(series: unknown, field: string): string {
  const value = field
    .split(".")
    .reduce<unknown>((inner, name) => (inner as Record<string, unknown> | null)?.[name], series);
  if (value === null || value === undefined) return "none";
  if (typeof value === "number")
    return field === "mastery.inWindow" ? String(value) : value.toFixed(shownDigits);
  return typeof value === "string" ? value : "?";
}

readOnly(
  "the file of a goal through the figures command gives the numbers on the screen, to the last digit shown",
  async ({ page, site }) => {
    await signIn(page, "noor");
    // With phases; with counts per time and a joined criterion; with a criterion that is pooled by the day; with a behavior that is to
    // decrease; a total that starts again each month; with few points.
    for (const [given, number, atLeast] of [
      ["Wren", "2b", 35],
      ["Anselm", "3", 25],
      ["Elowen", "2", 30],
      ["Caspian", "2", 30],
      ["Caspian", "3", 3],
      ["Lumi", "1", 4],
    ] as const) {
      await page.goto(`/students/${site.demo.student(given)}/goals/${site.demo.goal(given, number)}`);
      await awake(page);
      await page.getByText("How is this computed?", { exact: true }).click();
      const link = page.getByRole("link", { name: "points of this goal as a file" });
      const [download] = await Promise.all([page.waitForEvent("download"), link.click()]);
      expect(download.suggestedFilename()).toMatch(new RegExp(`^[A-Z]+-[0-9a-f]{4}-goal-${number}\\.csv$`));
      const file = await download.path();
      const printed = execFileSync(
        process.execPath,
        ["--import", "tsx", "cli/figures.ts", "progress", file, "--json"],
        { encoding: "utf8" },
      );
      const [series] = (JSON.parse(printed) as { series: unknown[] }).series;
      const cells = await page
        .locator("[data-field]")
        .evaluateAll((all) =>
          all.map((one) => [one.getAttribute("data-field") ?? "", one.textContent ?? ""]),
        );
      expect(cells.length, `${given} ${number}`).toBeGreaterThanOrEqual(atLeast);
      for (const [field = "", shown] of cells)
        expect(`${given} ${number} ${field} ${shown}`).toBe(
          `${given} ${number} ${field} ${shownAt(series, field)}`,
        );
      expect(readFileSync(file, "utf8")).not.toContain(given);
      // Sentences come again to the last character, whatever the criterion asks for.
      const decided = JSON.parse(
        execFileSync(process.execPath, ["--import", "tsx", "cli/figures.ts", "decide", file, "--json"], {
          encoding: "utf8",
        }),
      ) as {
        series: { standing: { words: string }; advice: { words: string | null }; sentences: string[] }[];
      };
      const { standing, advice, sentences } = decided.series[0] ?? {
        standing: { words: "?" },
        advice: { words: null },
        sentences: [],
      };
      const section = page.getByRole("region", { name: `Goal ${number}` });
      await expect(section).toContainText(standing.words);
      expect(sentences.length, `${given} ${number}`).toBeGreaterThan(1);
      for (const sentence of sentences.slice(1)) await expect(section).toContainText(sentence);
      if (advice.words) await expect(section).toContainText(advice.words);
    }
  },
);

readOnly("what changed leads to how it is computed, by keyboard too, and back", async ({ page, site }) => {
  await signIn(page, "noor");
  await page.goto(`/students/${site.demo.student("Wren")}/goals/${site.demo.goal("Wren", "2b")}`);
  await awake(page);
  const says = page.getByRole("region", { name: "What the data say" });
  await expect(says).toContainText(/Since “place-value mat” began: \d+% → \d+%, \+\d+ points/);
  const lower = page.locator("#how-compare-1").getByText("NAP, lower end");
  await expect(lower).toBeHidden();
  await says
    .getByRole("listitem")
    .filter({ hasText: "Since “place-value mat”" })
    .getByRole("link", { name: "how is this computed?" })
    .focus();
  await page.keyboard.press("Enter");
  await expect(lower).toBeInViewport();
  await expectAccessible(page, "how it is computed");
  await page.goBack();
  await expect(page).toHaveURL(/goals\/[-\w]+$/);
  await expect(says).toBeVisible();
});

test("a decision is written at the chart: nothing typed is lost, a phase line begins, the report has it, it is corrected and can be taken back", async ({
  page,
  site,
}) => {
  await signIn(page, "noor");
  await page.goto(`/students/${site.demo.student("Wren")}/goals/${site.demo.goal("Wren", "4")}`);
  await awake(page);
  await expect(page.getByText("Was the goal taught as planned?")).toBeVisible();
  await page.getByRole("button", { name: "Yes, it was" }).click();
  await expect(
    page.getByText(/The goal was taught as planned through .*\. Change something\./),
  ).toBeVisible();
  await page.getByText("Record a decision").click();
  await page.getByLabel(/^Change the instruction/).check();
  await page.getByLabel("Why").fill("eight weeks without a rise");
  await page.getByRole("button", { name: "Add to report" }).click();
  await expect(page.getByText("Name the phase.")).toBeVisible();
  await expect(page.getByLabel("Why")).toHaveValue("eight weeks without a rise");
  await expectAccessible(page, "a decision with a mistake");
  await page.getByLabel("Name of the phase").fill("number line");
  await page.getByRole("button", { name: "Add to report" }).click();
  const decisions = page.getByRole("list", { name: "Decisions" });
  await expect(decisions).toContainText("decided to change the instruction; “number line” begins.");
  await expect(margin(page)).toContainText("Eight weeks without a rise");
  await expect(page.getByText(/No points since the new phase began on/).first()).toBeVisible();
  await decisions.getByRole("link", { name: /number line/ }).click();
  await page.getByLabel("Why", { exact: true }).fill("");
  await page.getByRole("button", { name: "Save the correction" }).click();
  await expect(page.getByText("Give a reason: it appears in the report.")).toBeVisible();
  await expectAccessible(page, "a decision being corrected");
  await page.getByLabel("Why", { exact: true }).fill("nine weeks without a rise");
  await page.getByRole("button", { name: "Save the correction" }).click();
  await expect(margin(page)).toContainText("Nine weeks without a rise");
  await expect(page.getByRole("list").filter({ hasText: "Eight weeks without a rise" })).toBeVisible();
  await page.getByRole("button", { name: "Remove this decision" }).click();
  await expect(page.getByText(/Removed by N. Halloran/)).toBeVisible();
  await expect(margin(page)).not.toContainText("Nine weeks without a rise");
  await page.getByRole("button", { name: "Put it back" }).click();
  await expect(margin(page)).toContainText("Nine weeks without a rise");
});

readOnly("who records and does not lead sees what it says and writes no decision", async ({ page, site }) => {
  await signIn(page, "teo");
  await page.goto(`/students/${site.demo.student("Wren")}/goals/${site.demo.goal("Wren", "4")}`);
  await expect(page.getByRole("button", { name: "Yes, it was" })).toBeVisible();
  await expect(page.getByText("Record a decision")).toHaveCount(0);
});

readOnly("the chart is drawn once and right: nothing in it moves while it loads", async ({ page, site }) => {
  await page.emulateMedia({ reducedMotion: "no-preference" });
  await signIn(page, "noor");
  await page.goto(`/students/${site.demo.student("Wren")}/goals/${site.demo.goal("Wren", "3")}`);
  await page.locator("canvas").waitFor();
  const pictures = await page.locator("canvas").evaluate(async (canvas: HTMLCanvasElement) => {
    const seen = new Set<string>();
    const blank = document.createElement("canvas");
    [blank.width, blank.height] = [canvas.width, canvas.height];
    for (let frame = 0; frame < 40; frame += 1) {
      await new Promise(requestAnimationFrame);
      seen.add(canvas.toDataURL());
    }
    seen.delete(blank.toDataURL());
    return seen.size;
  });
  expect(pictures).toBe(1);
});

readOnly(
  "the chart is looked at closer with buttons and keys, tells each point and mark, and is taken away",
  async ({ page, site }) => {
    await signIn(page, "noor");
    await page.goto(`/students/${site.demo.student("Wren")}/goals/${site.demo.goal("Wren", "3")}`);
    await awake(page);
    const chart = page.locator("canvas");
    await chart.waitFor();
    const spans = page.getByRole("group", { name: "Span of the chart" });
    await spans.getByRole("button", { name: "4 weeks" }).click();
    await expect(spans.getByRole("button", { name: "4 weeks" })).toHaveAttribute("aria-pressed", "true");
    await chart.focus();
    await page.keyboard.press("-");
    await expect(spans.getByRole("button", { name: "8 weeks" })).toHaveAttribute("aria-pressed", "true");
    await page.keyboard.press("+");
    await page.keyboard.press("+");
    await expect(spans.getByRole("button", { name: "4 weeks" })).toHaveAttribute("aria-pressed", "true");
    await spans.getByRole("button", { name: "Through due date" }).click();
    await chart.focus();
    await page.keyboard.press("End");
    await expect(chart).toHaveAttribute("aria-valuetext", /: \d+%, \d.of.5$/);
    // Beyond the last point stand the notes.
    await page.keyboard.press("ArrowRight");
    await expect(chart).toHaveAttribute("aria-valuetext", /^\w{3}, \w{3} \d+: .*[a-z]{3}/);
    await page.getByText("The shares as a table").click();
    await expect(page.getByRole("link", { name: /: .*independent/ }).first()).toBeVisible();
    for (const [name, button] of [
      ["png", page.getByRole("button", { name: "PNG" })],
      ["svg", page.getByRole("link", { name: "SVG" })],
      ["csv", page.getByRole("link", { name: "CSV" })],
    ] as const) {
      const [download] = await Promise.all([page.waitForEvent("download"), button.click()]);
      expect(download.suggestedFilename()).toMatch(new RegExp(`^WA-[0-9a-f]{4}-goal-3\\.${name}$`));
    }
    await chart.focus();
    await page.keyboard.press("End");
    await page.keyboard.press("Enter");
    await expect(page).toHaveURL(/\/entries\//);
  },
);

test("the caseload has the most pressing first, is narrowed, walked through by arrow keys, and goes back", async ({
  page,
}) => {
  await signIn(page, "noor");
  await page.goto("/caseload");
  await awake(page);
  const goals = page.locator("[data-goal]");
  const all = await goals.count();
  expect(all).toBeGreaterThan(25);
  await expect(goals.first()).toContainText("Behind the line");
  await goals.first().focus();
  await page.keyboard.press("ArrowDown");
  const second = page.getByRole("list", { name: "Students and goals" }).getByRole("listitem").nth(1);
  await expect(second.locator("[data-goal]").first()).toBeFocused();
  await page.keyboard.press("ArrowRight");
  await expect(second.locator("[data-goal]").nth(1)).toBeFocused();
  await page.keyboard.press("ArrowLeft");
  await page.keyboard.press("ArrowUp");
  await expect(goals.first()).toBeFocused();
  await page.getByLabel("Standing").selectOption("Behind the line");
  await expect(goals.filter({ hasNotText: "Behind the line" })).toHaveCount(0);
  await expect(page).toHaveURL(/standing=behind/);
  const behind = await goals.count();
  await page.getByLabel("Area").selectOption("Behavior");
  await expect(page).toHaveURL(/standing=behind&area=Behavior/);
  await page.goBack();
  await expect(page.getByLabel("Area")).toHaveValue("");
  await expect(goals).toHaveCount(behind);
  await page.getByLabel("Standing").selectOption("No aim line");
  await page.getByLabel("Area").selectOption("Mathematics");
  await expect(page.getByText("No goal has all of what is chosen.")).toBeVisible();
  await page.getByRole("link", { name: "All again" }).click();
  await expect(goals).toHaveCount(all);
  await page.getByLabel("Order").selectOption("by name");
  await expect(
    page.getByRole("list", { name: "Students and goals" }).getByRole("listitem").first(),
  ).toContainText("Anselm Birke");
});

readOnly(
  "two stretches of a goal are compared, from its page, and the choice stands in the address",
  async ({ page, site }) => {
    await signIn(page, "noor");
    await page.goto(`/students/${site.demo.student("Wren")}/goals/${site.demo.goal("Wren", "2b")}`);
    await awake(page);
    await page.getByRole("link", { name: "Compare" }).click();
    // It begins with the last change of phase.
    await expect(page.getByLabel("On the left: span").locator("option:checked")).toHaveText(
      "counting blocks",
    );
    await expect(page.getByLabel("On the right: span").locator("option:checked")).toHaveText(
      "place-value mat",
    );
    await expect(
      page.getByText(/^Median .* on the left, .* on the right: \+\d+ points; later points beat /),
    ).toBeVisible();
    await page.getByLabel("On the left: span").selectOption("place-value mat");
    await expect(page.getByText("Both sides are the same:")).toBeVisible();
    await page.getByLabel("On the left: span").selectOption("baseline");
    await expect(
      page.getByText(/^Median .* on the left, .* on the right: \+\d+ points; later points beat /),
    ).toBeVisible();
    const right = page.getByRole("region", { name: "On the right" });
    await expect(right.getByRole("img")).toHaveAccessibleName(/points from .* to /);
    await page.goBack();
    await expect(page.getByText("Both sides are the same:")).toBeVisible();
    await page.getByLabel("On the right: goal").selectOption("");
    await expect(page.getByText("Choose a goal on both sides.")).toBeVisible();
  },
);

/** So many series of 60 points, as a file for the command. */
function manySeries(count: number): string {
  const rows = Array.from({ length: count }, (_, series) =>
    Array.from({ length: 60 }, (_, at) => {
      const date = new Date(Date.UTC(2026, 8, 1 + 3 * at)).toISOString().slice(0, 10);
      return `s${series},${date},${at < 8 ? "baseline" : "practice"},${(at * 7 + series * 13) % 100},80,2 of 3,2027-06-18`;
    }),
  ).flat();
  return ["series,date,phase,value,criterion,window,due", ...rows].join("\n");
}

readOnly(
  "a file of a thousand series is computed beside the page, which stays quick, and gives what the command gives",
  async ({ page }, info) => {
    await signIn(page, "noor");
    await page.goto("/figures");
    await awake(page);
    const file = info.outputPath("thousand.csv");
    writeFileSync(file, manySeries(1000));
    await page.evaluate(() => {
      const long: number[] = [];
      Object.assign(window, { long });
      new PerformanceObserver((list) =>
        list.getEntries().forEach(({ duration }) => long.push(duration)),
      ).observe({
        type: "longtask",
      });
    });
    await page.getByLabel("The file").setInputFiles(file);
    await expect(page.getByRole("progressbar", { name: "Series computed" })).toBeVisible();
    await expect(page.getByText("1000 series, the first 100 are listed")).toBeVisible({ timeout: 120_000 });
    const long = await page.evaluate(() => (window as unknown as { long: number[] }).long);
    console.log(
      `long tasks while 1000 series were computed: ${long.length}, longest ${Math.max(0, ...long)} ms`,
    );
    const [download] = await Promise.all([
      page.waitForEvent("download"),
      page.getByRole("link", { name: "All figures as JSON" }).click(),
    ]);
    expect(download.suggestedFilename()).toBe("thousand-figures.json");
    const printed = execFileSync(
      process.execPath,
      ["--import", "tsx", "cli/figures.ts", "progress", file, "--json"],
      { encoding: "utf8", maxBuffer: 1e9 },
    );
    // The logarithm of the browser and of Node may differ in the last bit.
    const rounded = (text: string): unknown =>
      JSON.parse(text, (_, value: unknown) =>
        typeof value === "number" ? Number(value.toPrecision(12)) : value,
      );
    expect(rounded(readFileSync(await download.path(), "utf8"))).toEqual(rounded(printed));
    await expectAccessible(page, "numbers from a file");
  },
);

readOnly("a file that is wrong is said by its line, and a computation is stopped", async ({ page }, info) => {
  await signIn(page, "noor");
  await page.goto("/figures");
  await awake(page);
  const wrong = info.outputPath("wrong.csv");
  writeFileSync(wrong, "series,date,phase,value\na,2026-10-01,p,5\na,2026-10-32,p,6\n");
  await page.getByLabel("The file").setInputFiles(wrong);
  await expect(
    page.getByText("wrong.csv: Line 3: date 2026-10-32 is not a date (YYYY-MM-DD)."),
  ).toBeVisible();
  await expectAccessible(page, "a wrong file");
  const large = info.outputPath("large.csv");
  writeFileSync(large, manySeries(8000));
  await page.getByLabel("The file").setInputFiles(large);
  await page.getByRole("button", { name: "Stop" }).click();
  await expect(page.getByRole("progressbar")).toHaveCount(0);
  // The next one is computed all the same.
  const small = info.outputPath("small.csv");
  writeFileSync(small, manySeries(2));
  await page.getByLabel("The file").setInputFiles(small);
  await expect(page.getByText("small.csv: 2 series.")).toBeVisible();
});
