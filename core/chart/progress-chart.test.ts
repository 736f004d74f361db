import { describe, expect, it } from "vitest";
import { dateOfDay, dayNumber, weekdayOf } from "../dates/day-number.ts";
import { goalProgress } from "../progress/goal-figures.ts";
import { goalSeries } from "../progress/points.ts";
import type { GoalSetup } from "../model/goal.ts";
import { labelRows, nameBeside } from "./label-rows.ts";
import { placeLabels } from "./label-places.ts";
import { chartEs } from "../words/es/chart.ts";
import { smallChart } from "./small-chart.ts";
import { aboutPoints, mostlyPoints, zoomed } from "./chart.ts";
import { chartDescription, type ChartMore, progressChart } from "./progress-chart.ts";
import { shareStack } from "./share-stack.ts";
import { clipToRange, trendLine } from "./trend-line.ts";
import { heightOf, logAxis } from "./value-axis.ts";

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
const series = goalSeries(setup, entries);
const { points } = series;
const chart = progressChart(setup, series, goalProgress(setup, series));

describe("smallChart", () => {
  it("has every point once, by how it is drawn, and the words beside its lines", () => {
    if (!chart) throw new Error("there is a chart");
    const small = smallChart(chart);
    expect(small.points.map(({ kind, at }) => [kind, at.length])).toEqual([
      ["baseline", 2],
      ["measured", 3],
    ]);
    expect(small.runs.map((run) => run.length)).toEqual([2, 3]);
    expect(small.words.map(({ text, of }) => [of, text])).toEqual([
      ["last", "70"],
      ["criterion", "criterion 80"],
      ["aim", "aim line"],
    ]);
    expect(smallChart(chart, chartEs).words.map(({ text }) => text)).toContain("criterio 80");
  });

  it("leaves out ticks whose words would touch those before them", () => {
    if (!chart) throw new Error("there is a chart");
    const ticks = [0, 1, 30, 31, 80].map((day) => ({ day: chart.fromDay + day, label: "Sep 14, 2026" }));
    expect(smallChart({ ...chart, ticks }).ticks.map(({ day }) => day - chart.fromDay)).toEqual([0, 80]);
  });
});

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

  it("draws a trend for a phase of instruction with five points, none with fewer or for the baseline", () => {
    expect(chart?.trends).toEqual([]);
    const [last] = entries.slice(-1);
    const more = ["2026-12-01", "2026-12-08"].flatMap((date) => (last ? [{ ...last, date }] : []));
    const longer = goalSeries(setup, [...entries, ...more]);
    const trends = progressChart(setup, longer, goalProgress(setup, longer))?.trends;
    expect(trends?.map(({ line }) => line.from[0])).toEqual([dayNumber("2026-10-02")]);
  });

  it("ends the aim line at the due date on the criterion", () => {
    expect(chart?.aim?.to).toEqual([dayNumber("2027-01-29"), 80]);
  });

  it("says each point and the whole in words", () => {
    expect(chart?.runs[1]?.[2]?.label).toBe("Fri, Nov 20: 70%, 7\u00a0of\u00a010");
    expect(chart && chartDescription(series, chart)).toBe(
      "5 points from Mon, Sep 14 to Fri, Nov 20, lowest 20%, highest 70%, last 70%. The criterion is 80%. The aim line runs from 25% to 80% on Jan 29, 2027.",
    );
  });

  it("is not there without a point", () => {
    const none = goalSeries(setup, []);
    expect(progressChart(setup, none, goalProgress(setup, none))).toBeNull();
  });
});

describe("what stands in a chart beside its points", () => {
  const drawn = (more: ChartMore, own = setup) => {
    const of = goalSeries(own, entries);
    const found = progressChart(own, of, goalProgress(own, of), more);
    if (!found) throw new Error("nothing to draw");
    return found;
  };
  const lengths = (more: ChartMore) => drawn(more).runs.map((run) => run.length);

  it("draws no line over a break of school, nor over a day on which nothing was measured", () => {
    expect(lengths({})).toEqual([2, 3]);
    const breaks = [{ name: "a break", fromOn: "2026-10-24", toOn: "2026-11-01" }];
    expect(lengths({ breaks })).toEqual([2, 2, 1]);
    const mark = { label: "", page: null };
    expect(lengths({ marks: [{ ...mark, kind: "absent", day: dayNumber("2026-10-05") }] })).toEqual([
      2, 1, 2,
    ]);
    // On the day of a point it was measured; and a note parts nothing.
    expect(lengths({ marks: [{ ...mark, kind: "absent", day: dayNumber("2026-10-09") }] })).toEqual([2, 3]);
    expect(lengths({ marks: [{ ...mark, kind: "note", day: dayNumber("2026-10-05") }] })).toEqual([2, 3]);
  });

  it("keeps the marks of its own time only, and the day on which the criterion was reached", () => {
    const marks = ["2026-09-20", "2025-01-01", "2030-01-01"].map((date) => ({
      ...{ kind: "note" as const, day: dayNumber(date), label: date, page: null },
    }));
    expect(drawn({ marks }).marks.map(({ label }) => label)).toEqual(["2026-09-20"]);
    expect(drawn({}).met).toBeNull();
    const met = {
      ...setup,
      criterion: setup.criterion && { ...setup.criterion, value: 50, window: { k: 2, n: 2 } },
    };
    expect(drawn({}, met).met).toEqual({
      day: dayNumber("2026-10-09"),
      label: "Criterion reached on Fri, Oct 9",
    });
  });

  it("gives each level of help a shape of its own, where there is more than one", () => {
    const helpOf = (id: string) => ({ e2: "gesture", e3: "verbal", e4: "gesture" })[id] ?? null;
    const chart = drawn({ helpOf });
    expect(chart.shapes).toEqual(["gesture", "verbal"]);
    expect(chart.runs.flat().map(({ shape }) => shape)).toEqual([0, 0, 0, 1, 0]);
    expect(chart.runs.flat().at(-1)?.label).toContain(", gesture");
    expect(drawn({ helpOf: () => "gesture" }).shapes).toEqual([]);
  });

  it("makes its axis high enough for a like goal, and for another line", () => {
    const counted = { ...setup, measure: { kind: "count" as const, per: "observation" as const } };
    expect(drawn({}, counted).axis.high).toBe(80);
    expect(drawn({ alike: [150] }, counted).axis.high).toBe(150);
    const others = [{ label: "errors", runs: [[{ day: 0, value: 300, label: "", page: "" }]] }];
    expect(drawn({ others }, counted).axis.high).toBe(300);
  });

  it("runs straight on a log axis where values multiply, and bends the aim line", () => {
    const chart = drawn({ scale: "log" });
    expect(chart.axis).toMatchObject({ scale: "log", low: 10, high: 100 });
    expect(chart.axis.ticks.map(({ label }) => label)).toEqual(["10", "20", "50", "100"]);
    expect(heightOf(chart.axis, 10)).toBe(0);
    expect(heightOf(chart.axis, Math.sqrt(1000))).toBeCloseTo(0.5, 12);
    expect(chart.aimPath.length).toBeGreaterThan(10);
    const doubling = [5, 10, 20, 40, 80].map((value, at) => ({ day: 7 * at, value }));
    expect(trendLine(doubling, chart.axis)?.line.to).toEqual([28, expect.closeTo(80, 9)]);
    expect(trendLine([...doubling, { day: 35, value: 0 }], chart.axis)).toBeNull();
    // Nothing above 0 has no place on it: the axis is a plain one then.
    expect(logAxis([0, 0])).toBeNull();
  });

  it("puts the interval of the slope about the middle of the points as a band, within the measure's range", () => {
    const linear = drawn({}).axis;
    const rising = [20, 40, 30, 60, 50, 90, 80].map((value, at) => ({ day: 7 * at, value }));
    const band = trendLine(rising, linear)?.band ?? [];
    expect(band.map(([day]) => day)).toEqual([0, 21, 42]);
    const [first, middle, last] = band.map(([, low, high]) => high - low);
    expect(middle).toBe(0);
    expect(first).toBeGreaterThan(0);
    expect(last).toBeGreaterThan(0);
    expect(band.flat().every((value) => value >= 0 && value <= 100)).toBe(true);
    expect(trendLine(rising.slice(0, 4), linear)).toBeNull();
    const equal = rising.map(({ day }) => ({ day, value: 50 }));
    expect(trendLine(equal, linear)?.band).toEqual(null);
  });

  it("shows a part of its time, with the phase that was running then and ticks of its own", () => {
    const part = zoomed(drawn({}), dayNumber("2026-10-05"), dayNumber("2026-11-21"));
    expect(part.phases).toEqual([{ label: "place-value mat", day: dayNumber("2026-10-05"), line: false }]);
    expect(part.ticks[0]).toEqual({ day: dayNumber("2026-10-05"), label: "Oct 5, 2026" });
    expect(part.ticks.slice(1).every(({ day }) => weekdayOf(dateOfDay(day)) === 1)).toBe(true);
    expect(part.axis).toEqual(drawn({}).axis);
  });

  it("names the phase of a stretch alone, is drawn about its points, and writes names where they can be read whole", () => {
    const mat = points.filter(({ phase }) => phase === "p").slice(-2);
    const part = { ...series, all: mat, points: mat, judged: [] };
    const whole = progressChart(setup, part, goalProgress(setup, part));
    if (!whole) throw new Error("no chart");
    expect(whole.phases.map(({ label }) => label)).toEqual(["place-value mat"]);
    const close = aboutPoints(whole);
    const days = mat.map(({ date }) => dayNumber(date));
    expect([close.fromDay < Math.min(...days), close.toDay > Math.max(...days)]).toEqual([true, true]);
    expect(close.toDay).toBeLessThan(dayNumber("2027-01-29"));
    expect(nameBeside(100, 50, 400)).toEqual({ left: 106, width: 50 });
    expect(nameBeside(380, 50, 400)).toEqual({ left: 348, width: 50 });
  });

  it("stacks the shares of prompt levels from no help up to the misses that count", () => {
    const measure = {
      ...{ kind: "supports" as const, levels: ["independent", "verbal"], misses: ["incorrect", "refused"] },
      ...{ credited: "verbal", countMisses: ["incorrect"] },
    };
    const [point] = points;
    if (!point) throw new Error("no point");
    const share = { independent: 40, verbal: 30, incorrect: 30 };
    const stack = shareStack(measure, [{ ...point, entry: { ...point.entry, detail: { share } } }, point]);
    expect(stack).toMatchObject({
      names: ["independent", "verbal", "incorrect"],
      levels: 2,
      bars: [
        {
          parts: [
            { from: 0, to: 40 },
            { from: 40, to: 70 },
            { from: 70, to: 100 },
          ],
        },
      ],
    });
    expect(shareStack(measure, [point])).toBeNull();
  });
});

describe("clipToRange", () => {
  it("ends a line where it would leave the measure's range", () => {
    expect(clipToRange({ from: [0, 50], to: [10, 150] }, 0, 100)).toEqual({ from: [0, 50], to: [5, 100] });
    expect(clipToRange({ from: [0, 50], to: [10, 60] }, 0, 100)).toEqual({ from: [0, 50], to: [10, 60] });
  });
});

describe("placeLabels", () => {
  it("moves a word that would stand on another up or down, and no other", () => {
    const bounds = { top: 0, bottom: 200 };
    const places = placeLabels(
      [
        { left: 100, width: 40, baseline: 50 },
        { left: 110, width: 80, baseline: 54 },
        { left: 300, width: 40, baseline: 52 },
      ],
      bounds,
    );
    expect(Math.abs((places[1] ?? 0) - 50)).toBeGreaterThanOrEqual(14);
    expect([places[0], places[2]]).toEqual([50, 52]);
    // At the upper edge there is only room below.
    const same = { left: 0, width: 40, baseline: 4 };
    expect(placeLabels([same, same], bounds)[1]).toBeGreaterThanOrEqual(18);
  });
});

describe("a chart through its due date", () => {
  it("keeps at least half of its width for the points", () => {
    if (!chart) throw new Error("no chart");
    const [first = 0, last = 0] = [dayNumber("2026-09-14"), dayNumber("2026-11-20")];
    const far = { ...chart, toDay: dayNumber("2027-09-01") };
    const cut = mostlyPoints(far);
    expect((last - first) / (cut.toDay - cut.fromDay)).toBeGreaterThanOrEqual(0.45);
    expect(cut.toDay).toBeLessThan(far.toDay);
    const near = { ...chart, toDay: last + 10 };
    expect(mostlyPoints(near)).toBe(near);
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
