import { describe, expect, it } from "vitest";
import type { Criterion } from "../criteria/criterion.ts";
import { type EntryFigure, goalPoints, goalProgress, goalStanding, goalSummary } from "./goal-figures.ts";
import type { GoalSetup } from "../model/goal.ts";

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
const standingOf = (entries: EntryFigure[], part: Partial<GoalSetup> = {}, today = "2026-10-20") => {
  const whole = { ...setup, ...part };
  const summary = goalSummary(whole, entries);
  return goalStanding(summary, whole, { lastOn: summary.last?.date, today });
};

describe("standing", () => {
  it("speaks of a new phase from its first day, before it has a point, and not a day earlier", () => {
    const phases = [
      ...setup.phases,
      { phaseId: "q", name: "new strategy", isBaseline: false, startsOn: "2026-10-14" },
    ];
    const entries = practice(5, 5, 6, 6, 6);
    expect(standingOf(entries, { phases }, "2026-10-13").key).toBe("ahead");
    expect(standingOf(entries, { phases }, "2026-10-14")).toMatchObject({
      key: "too-few",
      why: expect.stringContaining("Nothing has been recorded in this phase yet.") as string,
    });
  });

  it("is ahead of, or behind, the line by the four-point rule", () => {
    expect(standingOf(practice(5, 5, 6, 6))).toMatchObject({ key: "ahead", word: "Ahead of the line" });
    expect(standingOf(practice(2, 2, 2, 2))).toMatchObject({ key: "behind", word: "Behind the line" });
  });

  it("has too few points under four in the current phase", () => {
    expect(standingOf(practice(5, 5, 5))).toMatchObject({
      key: "too-few",
      why: expect.stringContaining("Three points in this phase; four are needed") as string,
    });
    expect(standingOf(baseline).why).toContain("Nothing has been recorded in this phase yet.");
  });

  it("is on the line where the last four lie around it", () => {
    expect(standingOf(practice(6, 2, 5, 4))).toMatchObject({ key: "on" });
  });

  it("decides a mixed four by median and trend, when both say so", () => {
    expect(standingOf(practice(2, 5, 7, 8))).toMatchObject({
      key: "ahead",
      why: expect.stringContaining("mostly on the better side") as string,
    });
    expect(standingOf(practice(5, 2, 2, 2, 2, 2)).key).toBe("behind");
  });

  it("says how many sessions met the criterion and how many are missing", () => {
    expect(standingOf(practice(6, 7, 8, 8)).why).toContain(
      "Two of the last four sessions met 80\u00a0%; one more is needed.",
    );
    expect(standingOf(practice(5, 5, 6, 7)).why).toContain(
      "None of the last four sessions met 80\u00a0% yet; three are needed.",
    );
  });

  it("says that the criterion is reached, and that it is not held any more", () => {
    expect(standingOf(practice(8, 8, 9, 9)).why).toContain(
      "Criterion reached on Mon 28 Sep: four of the last four sessions met 80\u00a0%.",
    );
    expect(standingOf(practice(8, 8, 9, 2, 2)).why).toContain(
      "Criterion was reached on Mon 28 Sep and is not held now",
    );
  });

  it("is met only when the case manager confirmed it, and only while it is held", () => {
    expect(standingOf(practice(8, 8, 9, 9), { metOn: "2026-10-06" })).toMatchObject({
      key: "met",
      why: expect.stringContaining("Confirmed on Tue 6 Oct.") as string,
    });
    expect(standingOf(practice(8, 8, 9, 2, 2, 2), { metOn: "2026-10-06" }).key).not.toBe("met");
  });

  it("has no line word without an aim line", () => {
    expect(standingOf(practice(5, 5, 6, 6), { dueOn: null })).toMatchObject({ key: "no-line" });
    expect(standingOf(practice(5, 5, 6, 6), { criterion: null, dueOn: null })).toMatchObject({
      key: "no-line",
    });
  });
});

describe("what counts", () => {
  it("leaves out what was not measured and purposes that do not count, and never takes either for zero", () => {
    const entries = [
      ...practice(5),
      entry("2026-09-22", 0, { value: null, numerator: null, denominator: null }),
      entry("2026-09-23", 1, { purpose: "teaching" }),
    ];
    expect(goalPoints(setup, entries).map((point) => point.value)).toEqual([20, 20, 50]);
    expect(goalSummary(setup, entries)).toMatchObject({ entries: 5, n: 3, last: { value: 50 } });
  });

  it("shows an entry with too few opportunities and does not hold it against the criterion", () => {
    const strict = {
      ...setup,
      criterion: { ...criterion, window: { k: 1, n: 1 }, minimumOpportunities: 10 },
    };
    const points = goalPoints(strict, [
      ...baseline,
      entry("2026-09-14", 4, { value: 100, numerator: 4, denominator: 4 }),
    ]);
    expect(points.length).toBe(3);
    expect(goalProgress(strict, points).mastery).toMatchObject({ met: false, inWindow: 0 });
  });

  it("takes an entered baseline where none was observed", () => {
    const entered = { ...setup, enteredBaseline: { date: "2026-09-02", value: 25 } };
    expect(goalProgress(entered, goalPoints(entered, [entry("2026-09-14", 5)])).aim).toMatchObject({
      from: "2026-09-02",
      fromValue: 25,
    });
  });
});
