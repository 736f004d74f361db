import { type TimeTick, timeTicks } from "./time-axis.ts";
import type { ChartLine, ChartTrend } from "./trend-line.ts";
import type { ValueAxis } from "./value-axis.ts";

export interface ChartPoint {
  day: number;
  value: number;
  baseline: boolean;
  /** Shown and not held against the criterion: fewer opportunities than planned, or a period that is still running. */
  hollow: boolean;
  entryId: string;
  /** Its own page, below the student's. */
  page: string;
  label: string;
  /** Which of the chart's `shapes` it has; 0 where there are none. */
  shape: number;
}

/** Something beside the points, at the foot of the chart. */
export interface ChartMark {
  day: number;
  kind: "absent" | "not measured" | "note" | "decision";
  label: string;
  page: string | null;
}

/** A point without a figure, at the edge of the chart where it belongs: beyond the longest delay, or at nothing. */
export interface ChartEdge {
  day: number;
  at: "top" | "foot";
  label: string;
  page: string;
}

/** Another line beside that of the points: errors, or what one rater gave. Like the points it breaks where a phase changes. */
export interface OtherLine {
  label: string;
  runs: { day: number; value: number; label: string; page: string }[][];
}

/** A chart in the units of the data (days and the unit of the measure), so that the drawing on paper and on screen is the same. */
export interface ProgressChart {
  fromDay: number;
  toDay: number;
  axis: ValueAxis;
  /** What the upright axis shows, with its unit. */
  axisTitle: string;
  unit: string;
  /** Points joined by a line: none is drawn across a change of phase, a break of school, or a day on which nothing was measured. */
  runs: ChartPoint[][];
  edges: ChartEdge[];
  phases: { day: number; label: string; line: boolean }[];
  trends: ChartTrend[];
  aim: ChartLine | null;
  /** The aim line as it runs on the axis: bent where that is a log one. */
  aimPath: [day: number, value: number][];
  criterion: number | null;
  dueDay: number | null;
  /** Reporting periods that can be looked at, the newest first. */
  periods: { key: string; words: string; fromDay: number; toDay: number }[];
  /** The first day on which the criterion was reached. */
  met: { day: number; label: string } | null;
  ticks: TimeTick[];
  marks: ChartMark[];
  /** The levels of help that points were taken with, each a shape of its own; empty where it is one only. */
  shapes: string[];
  others: OtherLine[];
}

/** Where the aim line is named: at 72 of its hundred parts, or where it leaves the chart before, at 80 of what is seen of it. */
export function aimLabelPlace({
  aim,
  toDay,
}: Pick<ProgressChart, "aim" | "toDay">): [day: number, value: number] | null {
  if (!aim) return null;
  const long = aim.to[0] - aim.from[0];
  const seen = long > 0 ? (toDay - aim.from[0]) / long : 1;
  const share = seen >= 0.72 ? 0.72 : 0.8 * seen;
  return [aim.from[0] + long * share, aim.from[1] + (aim.to[1] - aim.from[1]) * share];
}

/** Up to so many points in view are drawn at their full size. */
const roomy = 120;
const smallest = 0.4;

/**
 * How large points are drawn, as a share of their full size: smaller where so many are in view that they would cover each other.
 *
 * @example 1 for 120 points in view, 0.5 for 480
 */
export function pointSize({
  runs,
  fromDay,
  toDay,
}: Pick<ProgressChart, "runs" | "fromDay" | "toDay">): number {
  let inView = 0;
  for (const run of runs) for (const { day } of run) if (fromDay <= day && day <= toDay) inView += 1;
  return inView <= roomy ? 1 : Math.max(smallest, Math.sqrt(roomy / inView));
}

/** Phases as a chart from that day shows them: of those that had begun before only the last, without its line. */
export function phasesFrom(phases: ProgressChart["phases"], fromDay: number): ProgressChart["phases"] {
  const before = phases.findLast(({ day }) => day <= fromDay);
  return [
    ...(before ? [{ ...before, day: fromDay, line: false }] : []),
    ...phases.filter(({ day }) => fromDay < day),
  ];
}

/** The same chart for a part of its time axis; what lies outside is clipped. */
export function zoomed(chart: ProgressChart, fromDay: number, toDay: number): ProgressChart {
  return {
    ...chart,
    ...{ fromDay, toDay },
    ticks: timeTicks(fromDay, toDay),
    phases: phasesFrom(chart.phases, fromDay).filter(({ day }) => day <= toDay),
    marks: chart.marks.filter(({ day }) => fromDay <= day && day <= toDay),
  };
}

/**
 * The chart through its due date, cut so that the points keep at least half of its width.
 *
 * @returns the whole chart where they have half of it already, or where there are fewer than two days of points
 */
export function mostlyPoints(chart: ProgressChart): ProgressChart {
  const days = chart.runs.flat().map(({ day }) => day);
  const [first, last] = [days[0], days.at(-1)];
  if (first === undefined || last === undefined || first === last) return chart;
  const toDay = last + (last - first) + Math.max(1, Math.round((last - first) * 0.03));
  return toDay < chart.toDay ? zoomed(chart, chart.fromDay, toDay) : chart;
}

/** The same chart from a day, or from its first point, to its last point, with a little room on either side. */
export function aboutPoints(chart: ProgressChart, from?: number): ProgressChart {
  const days = chart.runs.flat().map(({ day }) => day);
  const [first, last] = [from ?? days[0], days.at(-1)];
  if (first === undefined || last === undefined) return chart;
  const pad = Math.max(1, Math.round((last - first) * 0.03));
  return zoomed(chart, first - pad, last + pad);
}
