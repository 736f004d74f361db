import { type TimeTick, timeTicks } from "./time-axis.ts";
import type { ChartLine, ChartTrend } from "./trend-line.ts";
import type { ValueAxis } from "./value-axis.ts";

export interface ChartPoint {
  day: number;
  value: number;
  baseline: boolean;
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

/** Another line beside that of the points: errors, or what one rater gave. */
export interface OtherLine {
  label: string;
  points: { day: number; value: number; label: string; page: string }[];
}

/** A chart in the units of the data (days and the unit of the measure), so that the drawing on paper and on screen is the same. */
export interface ProgressChart {
  fromDay: number;
  toDay: number;
  axis: ValueAxis;
  unit: string;
  /** Points joined by a line: none is drawn across a change of phase, a break of school, or a day on which nothing was measured. */
  runs: ChartPoint[][];
  phases: { day: number; label: string; line: boolean }[];
  trends: ChartTrend[];
  aim: ChartLine | null;
  /** The aim line as it runs on the axis: bent where that is a log one. */
  aimPath: [day: number, value: number][];
  criterion: number | null;
  dueDay: number | null;
  /** The first day on which the criterion was reached. */
  met: { day: number; label: string } | null;
  ticks: TimeTick[];
  marks: ChartMark[];
  /** The levels of help that points were taken with, each a shape of its own; empty where it is one only. */
  shapes: string[];
  others: OtherLine[];
}

/** Where the aim line is named: at 72 of its hundred parts. */
export function aimLabelPlace({ aim }: ProgressChart): [day: number, value: number] | null {
  const share = 0.72;
  return (
    aim && [aim.from[0] + (aim.to[0] - aim.from[0]) * share, aim.from[1] + (aim.to[1] - aim.from[1]) * share]
  );
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

/** Whether the figure at the last point would stand on the word at the end of the criterion line; places in pixels. */
export function isCrowded(
  { criterion }: ProgressChart,
  last: { day: number; value: number },
  toX: (day: number) => number,
  toY: (value: number) => number,
  rightEdge: number,
): boolean {
  return (
    criterion !== null && Math.abs(toY(last.value) - toY(criterion)) < 13 && toX(last.day) + 40 > rightEdge
  );
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

/** The same chart from a day, or from its first point, to its last point, with a little room on either side. */
export function aboutPoints(chart: ProgressChart, from?: number): ProgressChart {
  const days = chart.runs.flat().map(({ day }) => day);
  const [first, last] = [from ?? days[0], days.at(-1)];
  if (first === undefined || last === undefined) return chart;
  const pad = Math.max(1, Math.round((last - first) * 0.03));
  return zoomed(chart, first - pad, last + pad);
}
