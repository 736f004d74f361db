import { describe, expect, it } from "vitest";
import { goalFullFigures, judgeGoal, schoolWeeks } from "../progress/goal-figures.ts";
import { type EntryFigure, goalSeries } from "../progress/points.ts";
import type { GoalSetup } from "../model/goal.ts";
import { catalogueOf } from "../words/catalogues.ts";
import { en } from "../words/en.ts";
import { statementFacts, statementFactsSchema } from "./statement-facts.ts";
import { statementSentences } from "./statement-sentences.ts";

const calendar = {
  schoolDays: [1, 2, 3, 4, 5],
  years: [{ name: "2026–27", fromOn: "2026-09-07", toOn: "2027-06-18" }],
  closures: [],
  reportingPeriods: [
    { name: "Trimester 1", fromOn: "2026-09-07", toOn: "2026-12-04" },
    { name: "Trimester 2", fromOn: "2026-12-07", toOn: "2027-03-12" },
  ],
};
const [first, second] = calendar.reportingPeriods as [
  (typeof calendar.reportingPeriods)[number],
  (typeof calendar.reportingPeriods)[number],
];
const criterion: NonNullable<GoalSetup["criterion"]> = {
  ...{ value: 80, direction: "increase", window: { k: 3, n: 4 }, windowUnit: "session" },
  purposes: ["probe"],
};
const trials: GoalSetup = {
  measure: { kind: "trials", planned: 10 },
  criterion,
  dueOn: "2027-04-19",
  metOn: null,
  enteredBaseline: null,
  phases: [
    { phaseId: "b", name: "Baseline", isBaseline: true, startsOn: "2026-09-07" },
    { phaseId: "t", name: "Teaching", isBaseline: false, startsOn: "2026-09-28" },
  ],
};
const of = (points: readonly [date: string, correct: number][], outOf = 10): EntryFigure[] =>
  points.map(([date, correct], at) => ({
    ...{ entryId: String(at), date, value: (100 * correct) / outOf, numerator: correct, denominator: outOf },
    purpose: "probe",
  }));

function factsOf(
  setup: GoalSetup,
  entries: readonly EntryFigure[],
  period: typeof first,
  through = period.toOn,
) {
  const series = goalSeries(
    setup,
    entries.filter(({ date }) => date <= through),
    through,
  );
  const figures = goalFullFigures(setup, series);
  const lastOn = series.all.at(-1)?.date ?? null;
  const decided = judgeGoal(figures.decided, setup, { lastOn, today: through, calendar });
  return statementFacts({ goal: { setup }, series, figures, decided }, period, { calendar, through });
}
const says = (facts: ReturnType<typeof factsOf>, isPlain = false, language: "en" | "es" = "en") =>
  statementSentences(facts, { name: "Wren", isPlain }, catalogueOf(language)).map((text) =>
    text.replaceAll("\u00a0", " "),
  );

const baseline: [string, number][] = [
  ["2026-09-14", 2],
  ["2026-09-16", 3],
  ["2026-09-21", 2],
];
/** Five points a week: 30, 35 … as counts of 20, so that each is exact. */
const rising = of(
  Array.from({ length: 18 }, (_, week): [string, number] => [
    new Date(Date.UTC(2026, 8, 28 + 7 * week)).toISOString().slice(0, 10),
    6 + week,
  ]),
  20,
).filter(({ date }) => date < "2026-12-19");

describe("the numbers of a progress statement", () => {
  it("are baseline, sessions, counts and the latest point of the first period", () => {
    const facts = factsOf(trials, [...of(baseline), ...rising], first);
    // Ten Mondays from Sep 28 to Nov 30: 30% to 75%, so the median is 52.5% and the counts are 6 + … + 15 of 200.
    expect(facts).toMatchObject({
      ...{ baseline: 20, before: null, occasion: "session", target: 80, dueOn: "2027-04-19" },
      now: { value: 52.5, n: 10, counted: { numerator: 105, denominator: 200 }, isBaseline: false },
      latest: { value: 75, on: "2026-11-30", counted: { numerator: 15, denominator: 20 } },
    });
    expect(facts.gain).toBeCloseTo(5);
    // From the median of the last three points, 70%, to 80% over the school weeks that are left.
    expect(facts.needed).toBeCloseTo(10 / schoolWeeks(calendar, "2026-12-04", "2027-04-19"));
    expect(says(facts)).toEqual([
      "In Trimester 1, Wren’s median was 53% in ten sessions (105 of 200, 53% in all), compared with 20% at baseline.",
      "The latest session, on Nov 30, 2026, was at 75% (15 of 20).",
      "Progress is enough to reach 80% by Apr 19, 2027.",
      expect.stringMatching(/^The gain is about 5 points a week; the goal needs 0\.\d\.$/),
    ]);
  });

  it("set the period beside the one before, and leave out what came later", () => {
    const facts = factsOf(trials, [...of(baseline), ...rising], second, "2026-12-11");
    expect(facts.before).toEqual({ name: "Trimester 1", value: 52.5 });
    expect(facts.now).toMatchObject({ value: 80, n: 1 });
    expect(says(facts)[0]).toBe(
      "In Trimester 2 so far, Wren had one session, at 80% (16 of 20), compared with 53% in Trimester 1 and 20% at baseline.",
    );
    // One session was just given: it is not said again as the latest.
    expect(says(facts).join(" ")).not.toContain("latest");
  });

  it("say that nothing was measured, with the last point before", () => {
    const facts = factsOf(trials, of(baseline), second);
    expect(facts.now).toBeNull();
    expect(says(facts).slice(0, 2)).toEqual([
      "This goal was not measured in Trimester 2.",
      "The latest session, on Sep 21, 2026, was at 20% (2 of 10).",
    ]);
  });

  it("take the baseline for the period's level where nothing came after it, and compare it with nothing", () => {
    const facts = factsOf(trials, of(baseline), first, "2026-09-25");
    expect(facts).toMatchObject({ baseline: null, now: { value: 20, n: 3, isBaseline: true } });
    expect(says(facts)[0]).toBe(
      "In Trimester 1 so far, the baseline was measured: 20% in three sessions (7 of 30, 23% in all).",
    );
  });

  it("give a running total as what has come together, without counts", () => {
    const facts = factsOf(
      {
        ...trials,
        measure: { kind: "running-total", target: 300, unit: "minutes" },
        criterion: null,
        phases: [],
      },
      [
        { ...of([["2026-10-01", 1]])[0], value: 20, numerator: null, denominator: null },
        { ...of([["2026-10-08", 1]])[0], entryId: "z", value: 15, numerator: null, denominator: null },
      ] as EntryFigure[],
      first,
    );
    expect(facts.now).toMatchObject({ value: 35, n: 2, counted: null });
    expect(says(facts)).toEqual([
      "By the end of Trimester 1, Wren had 35 minutes in all.",
      "The goal has no criterion yet.",
    ]);
  });

  it("turn the gain towards a criterion that is to come down", () => {
    const falling = of(
      rising.map(({ date }, at): [string, number] => [date, 9 - Math.min(8, Math.floor(at / 2))]),
    );
    const facts = factsOf(
      { ...trials, criterion: { ...criterion, value: 10, direction: "decrease" } },
      falling,
      first,
    );
    expect(facts.gain).toBeGreaterThan(0);
    expect(says(facts).join(" ")).toContain("to come down to 10% by Apr 19, 2027.");
    expect(says(facts).at(-1)).toMatch(/^The decrease is about 5 points a week; the goal needs/);
  });

  it.each([
    ["a confirmed goal", { metOn: "2026-11-20" }, "The goal was met on Nov 20, 2026."],
    ["no due date", { dueOn: null }, "No due date is set."],
    ["no criterion", { criterion: null }, "The goal has no criterion yet."],
    [
      "a due date that has passed",
      { dueOn: "2026-11-01" },
      "The goal was due on Nov 1, 2026 and is not reached.",
    ],
  ])("answer for %s without a pace", (_, change, sentence) => {
    const low = of(rising.map(({ date }): [string, number] => [date, "metOn" in change ? 9 : 3]));
    expect(says(factsOf({ ...trials, ...change }, low, first)).at(-1)).toBe(sentence);
  });

  it("are the same after a way through JSON, and read in plain words in both languages", () => {
    const facts = factsOf(trials, [...of(baseline), ...rising], second, "2026-12-18");
    const stored = statementFactsSchema.parse(JSON.parse(JSON.stringify(facts)));
    expect(stored).toEqual(facts);
    expect(says(stored, true)[0]).toBe(
      "In Trimester 2 so far, this goal was measured two times. Wren’s usual result was 83%. In Trimester 1, it was 53%. At first, it was 20%.",
    );
    expect(says(stored, true, "es")[0]).toBe(
      "En Trimestre 2 hasta ahora, esta meta se midió dos veces. El resultado habitual de Wren fue 83%. En Trimestre 1 fue 53%. Al principio fue 20%.",
    );
    expect(says(stored, true).join(" ")).not.toMatch(/median|baseline/);
    expect(statementSentences(stored, { name: "Wren", isPlain: false }, en)).toEqual(
      statementSentences(stored, { name: "Wren", isPlain: false }, catalogueOf("en")),
    );
  });
});
