import { expect, it } from "vitest";
import { aimLabelPlace } from "./chart.ts";
import { type SmallChart, wallChart } from "./small-chart.ts";
import { valueAxis } from "./value-axis.ts";

const chart: SmallChart = {
  ...{ fromDay: 0, toDay: 40, axisTitle: "Percent correct", ticks: [], runs: [], edges: [], phases: [] },
  axis: valueAxis([20, 80], "percent"),
  points: [
    { kind: "measured", shape: 1, at: [[9, 40]] },
    { kind: "aside", shape: 0, at: [[12, 10]] },
    { kind: "measured", shape: 2, at: [[20, 60]] },
    { kind: "baseline", shape: 0, at: [[1, 20]] },
  ],
  shapes: ["independent", "with a model"],
  trends: [
    {
      line: [
        [0, 20],
        [8, 25],
      ],
      band: null,
    },
    {
      line: [
        [9, 40],
        [20, 61],
      ],
      band: null,
    },
  ],
  ...{ others: [], aim: [], criterion: 80, met: null },
  words: [{ text: "60", of: "last", at: [20, 60] }],
};

it("on a wall points of all levels of help have one shape, and the latest trend is named where it ends", () => {
  const wall = wallChart(chart);
  expect(wall.shapes).toEqual([]);
  expect(wall.points).toEqual([
    {
      kind: "measured",
      shape: 0,
      at: [
        [9, 40],
        [20, 60],
      ],
    },
    { kind: "baseline", shape: 0, at: [[1, 20]] },
    { kind: "aside", shape: 0, at: [[12, 10]] },
  ]);
  expect(wall.words).toEqual([
    { text: "60", of: "last", at: [20, 60] },
    { text: "trend", of: "trend", at: [20, 61] },
  ]);
  expect(wallChart({ ...chart, trends: [] }).words).toEqual(chart.words);
});

it("the aim line is named on it, where it is seen: at 72 of 100 parts, or at 80 of the part that is in the chart", () => {
  const aim = { from: [10, 20] as [number, number], to: [110, 120] as [number, number] };
  expect(aimLabelPlace({ aim, toDay: 200 })).toEqual([82, 92]);
  expect(aimLabelPlace({ aim, toDay: 82 })).toEqual([82, 92]);
  // Half of it is seen: 80 of those 50 days.
  expect(aimLabelPlace({ aim, toDay: 60 })).toEqual([50, 60]);
  expect(aimLabelPlace({ aim: null, toDay: 60 })).toBeNull();
});
