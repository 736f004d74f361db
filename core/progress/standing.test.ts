import { describe, expect, it } from "vitest";
import type { Criterion } from "../criteria/criterion.ts";
import { goalProgress, goalSummary, judgeGoal, schoolWeeks } from "./goal-figures.ts";
import type { SchoolCalendar } from "../schedule/calendar.ts";
import type { GoalSetup } from "../model/goal.ts";
import { type EntryFigure, goalSeries } from "./points.ts";

const criterion: Criterion = {
  value: 80,
  direction: "increase",
  window: { k: 3, n: 4 },
  windowUnit: "session",
  purposes: ["probe"],
};
const setup: GoalSetup = {
  measure: { kind: "trials" },
  criterion,
  dueOn: "2026-12-01",
  metOn: null,
  enteredBaseline: null,
  phases: [
    { phaseId: "b", name: "baseline", isBaseline: true, startsOn: "2026-09-01" },
    { phaseId: "p", name: "practice", isBaseline: false, startsOn: "2026-09-10" },
  ],
};

let count = 0;
function entry(date: string, correct: number, part: Partial<EntryFigure> = {}): EntryFigure {
  count += 1;
  return {
    entryId: `e${count}`,
    date,
    value: 10 * correct,
    numerator: correct,
    denominator: 10,
    purpose: "probe",
    ...part,
  };
}
const baseline = [entry("2026-09-01", 2), entry("2026-09-03", 2)];
const dates = ["2026-09-14", "2026-09-21", "2026-09-28", "2026-10-05", "2026-10-12", "2026-10-19"];
const practice = (...scores: number[]) => [
  ...baseline,
  ...scores.map((score, index) => entry(dates[index] ?? "", score)),
];
const calendar: SchoolCalendar = {
  schoolDays: [1, 2, 3, 4, 5],
  years: [],
  closures: [],
  reportingPeriods: [],
};
const judged = (entries: EntryFigure[], part: Partial<GoalSetup> = {}, today = "2026-10-20") => {
  const whole = { ...setup, ...part };
  const summary = goalSummary(whole, entries);
  return judgeGoal(summary, whole, { lastOn: summary.lastOn, today, calendar });
};

describe("a goal", () => {
  it("has a new phase from its first day, before it has a point, and not a day earlier", () => {
    const phases = [
      ...setup.phases,
      { phaseId: "q", name: "new strategy", isBaseline: false, startsOn: "2026-10-14" },
    ];
    const entries = practice(5, 5, 6, 6, 6);
    expect(judged(entries, { phases }, "2026-10-13").standing.key).toBe("ahead");
    expect(judged(entries, { phases }, "2026-10-14")).toMatchObject({
      standing: {
        key: "new-phase",
        why: expect.stringMatching(
          /^No points since the new phase began on Wed, Oct 14; four are needed. Before it: ahead of the line./,
        ) as string,
      },
      trend: { key: "too-few" },
      advice: { key: "none" },
    });
  });

  it("names what is joined to its criterion", () => {
    const fluency = {
      measure: { kind: "fluency" as const },
      criterion: {
        ...criterion,
        joined: [{ figure: "accuracy", value: 95, direction: "increase" as const }],
      },
    };
    expect(judged(practice(5, 5, 6, 6), fluency).standing.why).toContain(
      "reached 80\u00a0a\u00a0minute and 95% accuracy",
    );
  });

  it("counts the school weeks that are left, and says when its last point is old", () => {
    const closed = { ...calendar, closures: [{ name: "Storm", fromOn: "2026-11-23", toOn: "2026-11-27" }] };
    expect(schoolWeeks(calendar, "2026-10-20", "2026-12-01")).toBe(6);
    expect(schoolWeeks(closed, "2026-10-20", "2026-12-01")).toBe(5);
    expect(schoolWeeks(calendar, "2026-12-01", "2026-12-01")).toBe(0);
    expect(judged(practice(5, 5, 6, 6), {}, "2026-10-19").standing.stale).toBeNull();
    expect(judged(practice(5, 5, 6, 6), {}, "2026-10-27").standing.stale).toBe("Last measured 22 days ago.");
  });
});

describe("what counts", () => {
  it("leaves out what was not measured and purposes that do not count, and never takes either for zero", () => {
    const entries = [
      ...practice(5),
      entry("2026-09-22", 0, { value: null, numerator: null, denominator: null }),
      entry("2026-09-23", 1, { purpose: "teaching" }),
    ];
    expect(goalSeries(setup, entries).points.map((point) => point.value)).toEqual([20, 20, 50]);
    expect(goalSummary(setup, entries)).toMatchObject({ entries: 5, n: 3, last: { value: 50 } });
  });

  it("shows an entry with too few opportunities and does not hold it against the criterion", () => {
    const strict = {
      ...setup,
      criterion: { ...criterion, window: { k: 1, n: 1 }, minimumOpportunities: 10 },
    };
    const series = goalSeries(strict, [
      ...baseline,
      entry("2026-09-14", 4, { value: 100, numerator: 4, denominator: 4 }),
    ]);
    expect(series.all.map(({ isShort }) => isShort)).toEqual([false, false, true]);
    expect(goalProgress(strict, series).mastery).toMatchObject({ met: false, inWindow: 0 });
  });

  it("takes an entered baseline where none was observed", () => {
    const entered = { ...setup, enteredBaseline: { date: "2026-09-02", value: 25 } };
    expect(goalProgress(entered, goalSeries(entered, [entry("2026-09-14", 5)])).aim).toMatchObject({
      from: "2026-09-02",
      fromValue: 25,
    });
  });
});
