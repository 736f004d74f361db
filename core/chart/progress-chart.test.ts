import { describe, expect, it } from "vitest";
import { dayNumber } from "../progress/day-number.ts";
import { goalPoints, goalProgress, type GoalSetup } from "../progress/goal-figures.ts";
import { labelRows } from "./label-rows.ts";
import { chartDescription, progressChart } from "./progress-chart.ts";
import { clipToRange } from "./trend-line.ts";

const setup: GoalSetup = {
  measure: { kind: "trials" },
  criterion: {
    value: 80,
    direction: "increase",
    window: { k: 3, n: 4 },
    windowUnit: "session",
    purposes: ["probe"],
  },
  dueOn: "2027-01-29",
  metOn: null,
  enteredBaseline: null,
  phases: [
    { phaseId: "b", name: "baseline", isBaseline: true, startsOn: "2026-09-14" },
    { phaseId: "p", name: "place-value mat", isBaseline: false, startsOn: "2026-10-01" },
  ],
};
const entries = (
  [
    ["2026-09-14", 2],
    ["2026-09-21", 3],
    ["2026-10-02", 5],
    ["2026-10-09", 6],
    ["2026-11-20", 7],
  ] as const
).map(([date, correct], index) => ({
  entryId: `e${index}`,
  date,
  value: 10 * correct,
  numerator: correct,
  denominator: 10,
  purpose: "probe" as const,
}));
const points = goalPoints(setup, entries);
const chart = progressChart(setup, points, goalProgress(setup, points));

describe("progressChart", () => {
  it("draws no line across a change of phase, and the baseline hollow", () => {
    expect(chart?.runs.map((run) => run.length)).toEqual([2, 3]);
    expect(chart?.runs[0]?.every((point) => point.baseline)).toBe(true);
    expect(chart?.runs[1]?.some((point) => point.baseline)).toBe(false);
  });

  it("has time to scale and room up to the due date", () => {
    const days = chart?.runs.flat().map((point) => point.day) ?? [];
    expect(days.map((day) => day - (days[0] ?? 0))).toEqual([0, 7, 18, 25, 67]);
    expect(chart?.toDay).toBeGreaterThan(dayNumber("2027-01-29"));
  });

  it("labels each phase and draws a line where one begins after another", () => {
    expect(chart?.phases.map(({ label, line }) => [label, line])).toEqual([
      ["baseline", false],
      ["place-value mat", true],
    ]);
  });

  it("draws a trend for a phase of instruction, none for the baseline", () => {
    expect(chart?.trends.length).toBe(1);
    expect(chart?.trends[0]?.line.from[0]).toBe(dayNumber("2026-10-02"));
  });

  it("ends the aim line at the due date on the criterion", () => {
    expect(chart?.aim?.to).toEqual([dayNumber("2027-01-29"), 80]);
  });

  it("says each point and the whole in words", () => {
    expect(chart?.runs[1]?.[2]?.label).toBe("Fri 20 Nov: 70\u00a0%, 7\u00a0of\u00a010");
    expect(chart && chartDescription(points, chart)).toBe(
      "5 points from Mon 14 Sep to Fri 20 Nov, lowest 20\u00a0%, highest 70\u00a0%, last 70\u00a0%. The criterion is 80\u00a0%. The aim line runs from 25\u00a0% to 80\u00a0% on 29 Jan 2027.",
    );
  });

  it("is not there without a point", () => {
    expect(progressChart(setup, [], goalProgress(setup, []))).toBeNull();
  });
});

describe("clipToRange", () => {
  it("ends a line where it would leave the measure's range", () => {
    expect(clipToRange({ from: [0, 50], to: [10, 150] }, 0, 100)).toEqual({ from: [0, 50], to: [5, 100] });
    expect(clipToRange({ from: [0, 50], to: [10, 60] }, 0, 100)).toEqual({ from: [0, 50], to: [10, 60] });
  });
});

describe("labelRows", () => {
  it("puts a label on the next row only where it would touch its neighbour", () => {
    expect(
      labelRows([
        { left: 0, width: 50 },
        { left: 20, width: 50 },
        { left: 60, width: 20 },
        { left: 75, width: 20 },
      ]),
    ).toEqual([0, 1, 0, 2]);
  });
});
