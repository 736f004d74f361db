import { describe, expect, it } from "vitest";
import { cautionsOf } from "./cautions.ts";
import { carriedBy } from "./carried-by.ts";
import { changesOf } from "./changes.ts";
import { dateOfDay, dayNumber } from "../dates/day-number.ts";
import { fullFigures } from "./full-figures.ts";
import type { GoalPoint } from "./points.ts";
import { theilSen } from "./theil-sen.ts";
import { independenceSentence } from "./independence.ts";
import { outlookOf } from "./outlook.ts";
import type { Target } from "./progress.ts";
import type { SchoolCalendar } from "../schedule/calendar.ts";
import { schoolBreaks } from "../schedule/breaks.ts";

const target: Target = { direction: "increase", criterion: 80, window: { k: 3, n: 4 }, due: "2026-12-11" };
const criterion = {
  ...{ value: 80, direction: "increase" as const, window: { k: 3, n: 4 }, windowUnit: "session" as const },
  purposes: ["probe" as const],
};
const calendar: SchoolCalendar = {
  schoolDays: [1, 2, 3, 4, 5],
  years: [],
  closures: [],
  reportingPeriods: [],
};
let made = 0;
/** Points every third day from a date on. */
const run = (
  from: string,
  phase: string,
  values: readonly number[],
  more: Partial<GoalPoint["entry"]> = {},
  every = 3,
): GoalPoint[] =>
  values.map((value, at) => {
    const date = dateOfDay(dayNumber(from) + every * at);
    const entry = {
      ...{ entryId: String((made += 1)), date, value, purpose: "probe" as const },
      ...{ numerator: value / 10, denominator: 10, setting: "classroom", personId: "noor", ...more },
    };
    return {
      ...{ date, value, phase, entry, entries: [entry], isShort: false, isOpen: false },
      ...{ settings: ["classroom"], people: ["noor"] },
    };
  });
const nbsp = (text: string) => text.replaceAll(" %", "%");
const baseline = run("2026-09-07", "baseline", [20, 30, 20, 30, 20]);
const practice = run("2026-09-28", "practice", [30, 40, 40, 50, 50, 60, 60, 70, 70]);

const said = (
  points: readonly GoalPoint[],
  more: Partial<Parameters<typeof changesOf>[0]> = {},
  aimed: Target = target,
) =>
  changesOf({
    figures: fullFigures(points, aimed),
    ...{ points, enteredBaseline: null, nameOf: (phase) => phase, unit: "percent" },
    ...{ direction: aimed.direction, calendar, today: "2026-11-25", ...more },
  }).map(({ since, words }) => `${since}: ${words}`);

describe("what changed", () => {
  it("says since the baseline with levels, points and pairs, each with its counts", () => {
    expect(said([...baseline, ...practice])).toEqual([
      nbsp(
        "baseline: Since baseline: 20% → 50%, +30 points (median of 5 baseline points, of 9 now); points since the change beat baseline points in 98% of 45 comparisons (ties count half; 95% interval 68–100).",
      ),
    ]);
  });

  it("says since the last phase line too, and of the baseline the level only", () => {
    const next = run("2026-10-26", "mat", [70, 80, 80]);
    const [first, second] = said([...baseline, ...practice, ...next]);
    expect(first).toBe(
      nbsp("baseline: Since baseline: 20% → 80%, +60 points (median of 5 baseline points, of 3 now)."),
    );
    expect(second).toMatch(
      /^phase: Since “mat” began: 50% → 80%, \+30 points \(medians of 9 points before, 3 since\); points since the change beat points before it in /,
    );
  });

  it("compares no pairs with fewer than three points, nor two levels that nobody measured", () => {
    const [only] = said([...baseline, ...run("2026-09-28", "practice", [40, 50])]);
    expect(only).not.toContain("pairs");
    expect(said(baseline)).toEqual([]);
    expect(said([])).toEqual([]);
    expect(said(practice)).toEqual([]);
    expect(said(practice, { enteredBaseline: { date: "2026-09-01", value: 25 } })[0]).toBe(
      nbsp("baseline: Since baseline: 25% → 50%, +25 points (entered for Sep 1, 2026, of 9 now)."),
    );
  });

  it("turns better round where less is better, and leaves the difference as it is", () => {
    const [less] = said(
      [...baseline, ...run("2026-09-28", "practice", [10, 10, 10])],
      {},
      {
        ...target,
        direction: "decrease",
      },
    );
    expect(less).toContain("−10 points");
    expect(less).toContain("in 100% of 15 comparisons");
  });

  it("says since the last reporting period that ended, and nothing of one that goes on", () => {
    const periods = [
      { name: "Trimester 1", fromOn: "2026-09-08", toOn: "2026-10-10" },
      { name: "Trimester 2", fromOn: "2026-10-11", toOn: "2027-02-01" },
    ];
    const found = said([...baseline, ...practice], { calendar: { ...calendar, reportingPeriods: periods } });
    expect(found[1]).toBe(
      nbsp(
        "report: Since Trimester 1 ended on Sat, Oct 10: 50% → 65%, +15 points (medians of the last 3 then, 4 since).",
      ),
    );
    expect(said(practice, { calendar: { ...calendar, reportingPeriods: periods.slice(1) } })).toEqual([]);
  });

  describe("over a break of school", () => {
    const closures = [
      { name: "the winter break", fromOn: "2026-12-21", toOn: "2027-01-03" },
      { name: "Harbor Day", fromOn: "2026-11-11", toOn: "2026-11-11" },
    ];
    const around = (after: number[]) =>
      said(
        [
          ...run("2026-12-07", "practice", [60, 70, 70], {}, 2),
          ...run("2027-01-05", "practice", after, {}, 2),
        ],
        { calendar: { ...calendar, closures }, today: "2027-02-01" },
      ).filter((words) => words.startsWith("break"));

    it("says what was lost and on which school day it was back", () => {
      // One point at 70% is no return: three in a row with that median are.
      expect(around([50, 60, 50, 70, 70, 80])).toEqual([
        nbsp(
          "break: Over the winter break: 70% → 50%, −20 points (medians of the last 3 before, the first 3 after); back at 70% on Wed, Jan 13, school day 8 after it. One point usually differs from the next by 10 points.",
        ),
      ]);
      expect(around([50, 60, 50, 70])[0]).toContain("not back at 70% yet");
      expect(around([50, 60])).toEqual([]);
    });

    it("says no return where nothing was lost, and nothing without three points before", () => {
      expect(around([70, 80, 70])[0]).toMatch(/first 3 after\)\. One point usually differs/);
      expect(
        said([...run("2026-12-16", "practice", [60]), ...run("2027-01-05", "practice", [50, 50])], {
          calendar: { ...calendar, closures },
        }),
      ).toEqual([]);
    });

    it("takes a school week off for a break, and the time between two years", () => {
      const years = [
        { name: "2026", fromOn: "2026-09-08", toOn: "2027-06-18" },
        { name: "2027", fromOn: "2027-09-07", toOn: "2028-06-16" },
      ];
      expect(
        schoolBreaks({ ...calendar, closures, years }).map(({ name, fromOn, toOn }) => [name, fromOn, toOn]),
      ).toEqual([
        ["the winter break", "2026-12-21", "2027-01-03"],
        ["the time between two school years", "2027-06-19", "2027-09-06"],
      ]);
    });
  });
});

describe("the outlook", () => {
  const asked = { criterion, dueOn: "2026-11-06", unit: "percent", today: "2026-10-23" };
  const figures = (values: number[], due = "2026-11-06") =>
    fullFigures(run("2026-09-28", "practice", values), { ...target, due });

  it("says one session on the due date, its interval and its chance, in whole percent", () => {
    const found = outlookOf(figures([30, 42, 40, 38, 52, 50, 47, 58, 55]), asked);
    expect(found).toEqual({
      words: expect.stringMatching(
        /^If this continues, one session on Nov 6, 2026 would be at about \d+%, between \d+ and \d+% in 8 of 10 cases; the chance that it reaches 80% is (below )?\d+%\.$/,
      ) as string,
    });
  });

  it.each([
    ["with few points", [30, 40, 50], "2026-11-06", /six points/],
    ["out of the measure's range", [30, 45, 40, 60, 55, 75, 80, 85, 90], "2026-11-13", /would pass 100%/],
    ["further ahead than the phase reaches back", [30, 42, 40, 38, 52, 50], "2027-06-01", /too early/],
    ["of a day that is past", [30, 42, 40, 38, 52, 50], "2026-10-01", /passed/],
    ["where every point lies on the line", [30, 40, 50, 60, 70, 80], "2026-10-25", /one line/],
  ])("is hidden %s, and says why", (_, values, dueOn, why) => {
    const found = outlookOf(figures(values, dueOn), { ...asked, dueOn });
    expect(found && "hidden" in found ? found.hidden : found).toMatch(why);
  });

  it("is cut where its interval passes the end of the measure: good news is said", () => {
    const high = outlookOf(figures([60, 75, 70, 80, 78, 90, 82, 95, 88], "2026-10-27"), {
      ...asked,
      dueOn: "2026-10-27",
    });
    expect(high).toMatchObject({
      words: expect.stringMatching(/, above \d+% in 9 of 10 cases; the chance/) as string,
    });
    const low = outlookOf(figures([40, 25, 30, 20, 22, 10, 18, 5, 12], "2026-10-27"), {
      ...asked,
      dueOn: "2026-10-27",
    });
    expect(low).toMatchObject({
      words: expect.stringMatching(/, below \d+% in 9 of 10 cases; the chance/) as string,
    });
  });

  it("is not there without a due date", () => {
    expect(outlookOf(figures([30, 40, 50]), { ...asked, dueOn: null })).toBeNull();
  });
});

describe("cautions", () => {
  const of = (points: GoalPoint[], agreements: number[] = []) =>
    cautionsOf({
      figures: fullFigures(points, target),
      ...{ points, agreements, nameOf: (phase: string) => phase, personName: (id: string) => id },
    });

  it("are none where there is nothing to say", () => {
    expect(of([...baseline, ...practice], [90, 85])).toEqual([]);
  });

  it("tell of few points, another observer or setting, few opportunities and poor agreement, three at most", () => {
    expect(of([...baseline.slice(0, 3), ...practice])).toEqual([
      "Few points to compare: 3 in the baseline. At least five per phase are recommended.",
    ]);
    const other = run("2026-09-28", "practice", [30, 40, 40, 50, 50], { personId: "teo", setting: "hall" });
    expect(of([...baseline, ...other])).toEqual([
      "The observer changed with the phase, from noor to teo. That may explain the difference.",
      "The setting changed with the phase, from classroom to hall. That may explain the difference.",
    ]);
    const few = run("2026-09-28", "practice", [25, 50, 50, 50, 75], { denominator: 4 });
    expect(of([...baseline, ...few], [70, 90, 60])).toEqual([
      "A point rests on 4 opportunities: one more or less moves it by 25 points.",
      nbsp("Two observers agreed in 70% (middle of 3 sessions); at least 80% is recommended."),
    ]);
    expect(of([...baseline.slice(0, 2), ...other.slice(0, 3)], [10])).toHaveLength(3);
  });
});

describe("what carries the result", () => {
  it("pools counts by person, setting and weekday, the highest first", () => {
    const points = [
      ...run("2026-10-05", "p", [60, 80], { personId: "noor", setting: "hall" }, 7),
      ...run("2026-10-06", "p", [20, 40], { personId: "teo", setting: "hall" }, 7),
    ];
    const [person, weekday, ...rest] = carriedBy(points, "percent", (id) => id);
    expect(person).toEqual({
      by: "person",
      shares: [
        { name: "noor", n: 2, value: 70, words: nbsp("70% (14\u00a0of\u00a020)") },
        { name: "teo", n: 2, value: 30, words: nbsp("30% (6\u00a0of\u00a020)") },
      ],
    });
    expect(weekday?.shares.map(({ name }) => name)).toEqual(["Monday", "Tuesday"]);
    // All in one setting: nothing to tell apart.
    expect(rest).toEqual([]);
  });

  it("gives a mean of sessions where there are no counts", () => {
    const points = [
      ...run("2026-10-05", "p", [10, 20], { personId: "noor", numerator: null, denominator: null }, 7),
      ...run("2026-10-12", "p", [30], { personId: "teo", numerator: null, denominator: null }),
    ];
    expect(carriedBy(points, "seconds", (id) => id)[0]?.shares.map(({ words }) => words)).toEqual([
      "mean of sessions 30\u00a0s",
      "mean of sessions 15\u00a0s",
    ]);
  });

  it("says where independence grows while what is credited stays level, and only there", () => {
    const measure = {
      ...{ kind: "supports" as const, levels: ["independent", "verbal"], misses: ["incorrect"] },
      credited: "verbal",
    };
    const growing = (alone: number[], credited = [80, 70, 80, 70, 80, 70, 80]) =>
      alone.flatMap((independent, at) =>
        run(dateOfDay(dayNumber("2026-10-01") + 3 * at), "p", [credited[at] ?? 0], {
          detail: { share: { independent, verbal: 75 - independent } },
        }),
      );
    expect(independenceSentence(measure, growing([10, 20, 20, 30, 40, 50, 60]))).toMatch(
      /^Independence is growing: opportunities at “independent” rise \d+½? points a week, while credited opportunities \(with a verbal prompt or less\) stay level\.$/,
    );
    expect(independenceSentence(measure, growing([30, 20, 30, 20, 30, 20, 30]))).toBeNull();
    // What may be level and falls two points a week is not called level.
    const falling = [80, 70, 80, 70, 80, 60, 70];
    expect(theilSen(falling.map((y, at) => ({ x: 3 * at, y })))?.high).toBeGreaterThanOrEqual(0);
    expect(independenceSentence(measure, growing([10, 20, 20, 30, 40, 50, 60], falling))).toBeNull();
    expect(independenceSentence({ kind: "trials" }, practice)).toBeNull();
  });
});
