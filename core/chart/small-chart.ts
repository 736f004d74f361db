import { chartEn, type ChartWords } from "../words/en/chart.ts";
import { plainFigure } from "../words/amounts.ts";
import { aimLabelPlace, type ChartPoint, type ProgressChart } from "./chart.ts";
import type { TimeTick } from "./time-axis.ts";
import type { ValueAxis } from "./value-axis.ts";

/** How a point is drawn: measured, of the baseline, or not counted toward the criterion. */
export type SmallPointKind = "measured" | "baseline" | "aside";

type Place = [day: number, value: number];

/**
 * A goal's chart for reading only, as a report holds it: no more than what is drawn, and all words in the report's language, so that it is
 * drawn the same wherever and whenever.
 */
export interface SmallChart {
  fromDay: number;
  toDay: number;
  axis: ValueAxis;
  axisTitle: string;
  ticks: TimeTick[];
  /** The line of each run of points. */
  runs: Place[][];
  /** The points by how they are drawn, and by their shape among `shapes`. */
  points: { kind: SmallPointKind; shape: number; at: Place[] }[];
  shapes: string[];
  edges: { day: number; at: "top" | "foot" }[];
  phases: { day: number; label: string; line: boolean }[];
  trends: { line: [Place, Place]; band: [day: number, low: number, high: number][] | null }[];
  others: { label: string; runs: Place[][] }[];
  aim: Place[];
  criterion: number | null;
  met: number | null;
  /** Words beside the lines, the most important first. */
  words: { text: string; of: "last" | "criterion" | "aim" | "other" | "trend"; at: Place }[];
}

/** Twice as fine as a pixel is enough. */
const rounded = (value: number) => Math.round(value * 100) / 100;
const place = (day: number, value: number): Place => [rounded(day), rounded(value)];

/** How many letters fit below the time axis of the drawing. */
const lettersWide = 46;

/** The ticks without those whose words would touch the ones before them. */
function apart({ ticks, fromDay, toDay }: ProgressChart): TimeTick[] {
  const kept: TimeTick[] = [];
  for (const tick of ticks) {
    const last = kept.at(-1);
    const letters = last ? ((tick.day - last.day) / (toDay - fromDay)) * lettersWide : Infinity;
    if (!last || letters > last.label.length + 1) kept.push(tick);
  }
  return kept;
}

const kindOfPoint = ({ hollow, baseline }: ChartPoint): SmallPointKind =>
  hollow ? "aside" : baseline ? "baseline" : "measured";

function pointsByKind(points: readonly ChartPoint[]): SmallChart["points"] {
  const groups = new Map<string, SmallChart["points"][number]>();
  for (const point of points) {
    const kind = kindOfPoint(point);
    const key = `${kind} ${point.shape}`;
    const group = groups.get(key) ?? { kind, shape: point.shape, at: [] };
    groups.set(key, group);
    group.at.push(place(point.day, point.value));
  }
  return [...groups.values()];
}

function wordsOf(chart: ProgressChart, says: ChartWords): SmallChart["words"] {
  const { runs, criterion, unit, toDay, others } = chart;
  const last = runs.at(-1)?.at(-1);
  const aim = aimLabelPlace(chart);
  return [
    ...(last
      ? [
          {
            text: plainFigure(last.value, unit),
            of: "last" as const,
            at: place(last.day, last.value),
          },
        ]
      : []),
    ...(criterion === null
      ? []
      : [{ text: says.criterion(criterion, unit), of: "criterion" as const, at: place(toDay, criterion) }]),
    ...(aim && aim[0] <= toDay && aim[0] >= chart.fromDay
      ? [{ text: says.aimLine(), of: "aim" as const, at: place(...aim) }]
      : []),
    ...others.flatMap(({ label, runs: all }) => {
      const end = all.flat().findLast(({ day }) => day <= toDay);
      return end ? [{ text: label, of: "other" as const, at: place(end.day, end.value) }] : [];
    }),
  ];
}

/** A goal's chart for reading only. What stands at its foot, and what is told of single points, is left out. */
export function smallChart(chart: ProgressChart, says: ChartWords = chartEn): SmallChart {
  const { fromDay, toDay, axis, axisTitle, runs, edges, phases, trends, others, aimPath, criterion, met } =
    chart;
  const places = (run: readonly { day: number; value: number }[]) =>
    run.map(({ day, value }) => place(day, value));
  return {
    ...{ fromDay, toDay, axis, axisTitle, criterion, phases, shapes: chart.shapes },
    ticks: apart(chart),
    runs: runs.map(places),
    points: pointsByKind(runs.flat()),
    edges: edges.map(({ day, at }) => ({ day, at })),
    trends: trends.map(({ line, band }) => ({
      line: [place(...line.from), place(...line.to)],
      band: band && band.map(([day, low, high]) => [day, rounded(low), rounded(high)]),
    })),
    others: others.map(({ label, runs: all }) => ({ label, runs: all.map(places) })),
    aim: aimPath.map(([day, value]) => place(day, value)),
    met: met && met.day,
    words: wordsOf(chart, says),
  };
}

/**
 * The same chart for a wall, where no legend says what its marks are: the trend is named beside it, and measured points all have one shape,
 * whatever help was given.
 */
export function wallChart(chart: SmallChart, says: ChartWords = chartEn): SmallChart {
  const [, end] = chart.trends.at(-1)?.line ?? [];
  const kinds: readonly SmallPointKind[] = ["measured", "baseline", "aside"];
  return {
    ...chart,
    shapes: [],
    points: kinds.flatMap((kind) => {
      const at = chart.points.filter((one) => one.kind === kind).flatMap((one) => one.at);
      return at.length > 0 ? [{ kind, shape: 0, at }] : [];
    }),
    words: [...chart.words, ...(end ? [{ text: says.trend(), of: "trend" as const, at: end }] : [])],
  };
}
