import { groupBy } from "../group-by.ts";
import { baselinePhase, type Progress } from "../progress/progress.ts";
import { dateOfDay, dayNumber } from "../progress/day-number.ts";
import type { GoalPhase, GoalPoint, GoalSetup } from "../progress/goal-figures.ts";
import { theilSen } from "../progress/theil-sen.ts";
import { dateWithYear, monthName, shortDate } from "../words/dates.ts";
import { unitOf } from "../measures/measure.ts";
import { figure } from "../words/amounts.ts";
import { counts } from "../words/numbers.ts";
import { type ValueAxis, valueAxis } from "./value-axis.ts";

export interface ChartPoint {
  day: number;
  value: number;
  baseline: boolean;
  entryId: string;
  label: string;
}

export interface ChartLine {
  from: [day: number, value: number];
  to: [day: number, value: number];
}

/** A chart in the units of the data (days and the unit of the measure), so that the drawing on paper and on screen is the same. */
export interface ProgressChart {
  fromDay: number;
  toDay: number;
  axis: ValueAxis;
  unit: string;
  /** Points joined by a line: one run for each phase, since no line is drawn across a change. */
  runs: ChartPoint[][];
  phases: { day: number; label: string; line: boolean }[];
  trends: ChartLine[];
  aim: ChartLine | null;
  criterion: number | null;
  dueDay: number | null;
  ticks: { day: number; label: string }[];
}

function monthTicks(fromDay: number, toDay: number): { day: number; label: string }[] {
  const ticks = [{ day: fromDay, label: shortDate(dateOfDay(fromDay)).slice(4) }];
  const room = (toDay - fromDay) / 14;
  for (let day = fromDay + 1; day <= toDay; day += 1) {
    const date = dateOfDay(day);
    if (date.endsWith("-01") && day - (ticks.at(-1)?.day ?? 0) > room)
      ticks.push({ day, label: monthName(date) });
  }
  return ticks;
}

function phaseMarks(phases: readonly GoalPhase[], fromDay: number, toDay: number) {
  return [...phases]
    .map((phase) => ({ day: dayNumber(phase.startsOn), label: phase.name }))
    .filter((phase) => phase.day <= toDay)
    .sort((a, b) => a.day - b.day)
    .map((phase, index) => ({ day: Math.max(phase.day, fromDay), label: phase.label, line: index > 0 }));
}

function chartPoint({ date, value, phase, entry }: GoalPoint, unit: string): ChartPoint {
  const said =
    entry.numerator !== null && entry.denominator !== null
      ? `, ${counts(entry.numerator, entry.denominator)}`
      : "";
  return {
    day: dayNumber(date),
    value,
    baseline: phase === baselinePhase,
    entryId: entry.entryId,
    label: `${shortDate(date)}: ${figure(value, unit)}${said}`,
  };
}

/**
 * The geometry of a goal's chart after the conventions of single-case graphs: time on x to scale, 0 to 100 for
 * percentages, a line joining the points within a phase and none across a change, a trend line for each phase of
 * instruction with at least three points, aim line and criterion apart from the data.
 *
 * @returns null when there is nothing to draw: neither a measured point nor an aim line
 */
export function progressChart(
  setup: GoalSetup,
  points: readonly GoalPoint[],
  figures: Progress,
): ProgressChart | null {
  const firstDate = points[0]?.date ?? figures.aim?.from;
  const lastDate = points.at(-1)?.date ?? figures.aim?.to;
  if (firstDate === undefined || lastDate === undefined) return null;
  const unit = unitOf(setup.measure);
  const dueDay = setup.dueOn ? dayNumber(setup.dueOn) : null;
  const firstDay = dayNumber(firstDate);
  const lastDay = Math.max(dayNumber(lastDate), dueDay ?? 0);
  const pad = Math.max(1, Math.round((lastDay - firstDay) * 0.015));
  const fromDay = firstDay - pad;
  const toDay = lastDay + pad;

  const runs = [...groupBy(points, (point) => point.phase).values()].map((run) =>
    run.map((point) => chartPoint(point, unit)),
  );
  const axis = valueAxis(
    [
      ...points.map((point) => point.value),
      ...(setup.criterion ? [setup.criterion.value] : []),
      ...(figures.aim ? [figures.aim.fromValue, figures.aim.toValue] : []),
    ],
    unit,
  );
  const trends = runs.flatMap((run) => {
    const trend =
      run.length >= 3 && !run[0]?.baseline
        ? theilSen(run.map(({ day, value }) => ({ x: day, y: value })))
        : null;
    const [start, end] = [run[0]?.day ?? 0, run.at(-1)?.day ?? 0];
    const at = (day: number): [number, number] => [day, trend ? trend.intercept + trend.slope * day : 0];
    return trend ? [clipToRange({ from: at(start), to: at(end) }, axis.low, axis.high)] : [];
  });
  return {
    fromDay,
    toDay,
    axis,
    unit,
    runs,
    phases: phaseMarks(setup.phases, fromDay, toDay),
    trends,
    aim: figures.aim && {
      from: [dayNumber(figures.aim.from), figures.aim.fromValue],
      to: [dayNumber(figures.aim.to), figures.aim.toValue],
    },
    criterion: setup.criterion?.value ?? null,
    dueDay,
    ticks: monthTicks(fromDay, toDay),
  };
}

/** The part of a line that lies within the measure's range: a trend at 104 % is not drawn. */
export function clipToRange(line: ChartLine, low: number, high: number): ChartLine {
  const [x0, y0] = line.from;
  const [x1, y1] = line.to;
  const clip = ([x, y]: [number, number]): [number, number] => {
    const bounded = Math.min(high, Math.max(low, y));
    return y === bounded || y1 === y0
      ? [x, bounded]
      : [x0 + ((bounded - y0) * (x1 - x0)) / (y1 - y0), bounded];
  };
  return { from: clip(line.from), to: clip(line.to) };
}

/** The chart in words, for those who do not see it. */
export function chartDescription(points: readonly GoalPoint[], chart: ProgressChart): string {
  const first = points[0];
  const last = points.at(-1);
  const values = points.map((point) => point.value);
  const said = (value: number) => figure(value, chart.unit);
  const aim = chart.aim
    ? ` The aim line runs from ${said(chart.aim.from[1])} to ${said(chart.aim.to[1])} on ${dateWithYear(dateOfDay(chart.aim.to[0]))}.`
    : "";
  const criterion = chart.criterion === null ? "" : ` The criterion is ${said(chart.criterion)}.`;
  if (!first || !last) return `No points yet.${criterion}${aim}`;
  return `${points.length} points from ${shortDate(first.date)} to ${shortDate(last.date)}, lowest ${said(Math.min(...values))}, highest ${said(Math.max(...values))}, last ${said(last.value)}.${criterion}${aim}`;
}
