import { groupBy } from "../lists/group-by.ts";
import { baselinePhase, type Progress } from "../progress/progress.ts";
import { dateOfDay, dayNumber } from "../dates/day-number.ts";
import {
  type BlankPoint,
  type EntryFigure,
  type GoalPoint,
  type GoalSeries,
  pointUnit,
} from "../progress/points.ts";
import { axisTitle } from "./axis-title.ts";
import type { GoalPhase, GoalSetup } from "../model/goal.ts";
import type { DateSpan } from "../dates/date-span.ts";
import { shortDate } from "../words/dates.ts";
import { chartTextEn, type ChartTextWords } from "../words/en/chart-text.ts";
import { unitOf } from "../measures/measure.ts";
import { figure } from "../words/amounts.ts";
import { counts, plural } from "../words/numbers.ts";
import {
  type ChartEdge,
  type ChartMark,
  type ChartPoint,
  type OtherLine,
  phasesFrom,
  type ProgressChart,
} from "./chart.ts";
import type { ReportingSpan } from "../schedule/reporting-spans.ts";
import { timeTicks } from "./time-axis.ts";
import { trendLine } from "./trend-line.ts";
import { logAxis, type ValueAxis, valueAxis } from "./value-axis.ts";

/** What a chart shows beside the points. */
export interface ChartMore {
  /** Breaks of school, over which no line runs. */
  breaks?: readonly DateSpan[];
  marks?: readonly ChartMark[];
  others?: readonly OtherLine[];
  /** The level of help of an entry, where that is not the measure itself. */
  helpOf?: (entryId: string) => string | null;
  /** What else has to fit, so that goals of a kind can be compared. */
  alike?: readonly number[];
  scale?: ValueAxis["scale"];
  /** Reporting periods that can be looked at. */
  periods?: readonly ReportingSpan[];
}

function phaseMarks(phases: readonly GoalPhase[], fromDay: number, toDay: number) {
  const all = phases
    .map((phase) => ({ day: dayNumber(phase.startsOn), label: phase.name }))
    .filter((phase) => phase.day <= toDay)
    .sort((a, b) => a.day - b.day)
    .map((phase, index) => ({ ...phase, line: index > 0 }));
  return phasesFrom(all, fromDay);
}

/** What is drawn of a point; of a total that starts again each addition, with what has come together by then. */
interface Drawn {
  date: string;
  value: number;
  phase: string;
  entry: EntryFigure;
  of: GoalPoint;
}

const startsAgain = (measure: GoalSetup["measure"]) =>
  measure.kind === "running-total" && measure.startsAgain !== undefined;

function drawnPoints({ measure }: Pick<GoalSetup, "measure">, { all }: GoalSeries): Drawn[] {
  const starts = startsAgain(measure);
  return all.flatMap((point): Drawn[] => {
    if (point.value === null) return [];
    const of = { ...point, value: point.value };
    if (!starts) return [{ ...of, of }];
    let total = 0;
    return point.entries.map((entry) => {
      total += entry.value ?? 0;
      return { date: entry.date, value: total, phase: point.phase, entry, of };
    });
  });
}

const periodWords = {
  session: "",
  day: "the day so far",
  week: "the week so far",
  month: "the month so far",
};

/** Why a point is not held against the criterion; empty where it is. */
function asideWords({ isOpen, isShort, date }: GoalPoint, per: GoalSeries["unit"]): string {
  if (isOpen) return `, ${periodWords[per] || shortDate(date)}`;
  return isShort ? ", fewer than planned: not counted" : "";
}

function chartPoint(
  { date, value, phase, entry, of }: Drawn,
  unit: string,
  help: string | null,
  shapes: readonly string[],
  per: GoalSeries["unit"],
): ChartPoint {
  const counted =
    entry.numerator !== null && entry.denominator !== null
      ? `, ${counts(entry.numerator, entry.denominator)}`
      : "";
  const n = of.entries.length;
  const together =
    n > 1 && entry.entryId === of.entry.entryId ? `, ${n} ${plural(n, "entry", "entries")}` : "";
  const said = `${counted}${together}${asideWords(of, per)}`;
  return {
    hollow: of.isOpen || of.isShort,
    day: dayNumber(date),
    value,
    baseline: phase === baselinePhase,
    entryId: entry.entryId,
    page: `entries/${entry.entryId}`,
    label: `${shortDate(date)}: ${figure(value, unit)}${said}${help && shapes.length > 0 ? `, ${help}` : ""}`,
    shape: Math.max(0, shapes.indexOf(help ?? "")),
  };
}

/** A point without a figure: a delay that did not end stands above all others, anything else at nothing. */
function edgesOf(setup: Pick<GoalSetup, "measure">, { all }: GoalSeries): ChartEdge[] {
  const isBlank = (point: GoalPoint | BlankPoint): point is BlankPoint => point.value === null;
  const words: Partial<Record<string, string>> = {
    latency: "no response",
    duration: "none",
    outcomes: "another outcome",
  };
  return all.filter(isBlank).map(({ date, entry }) => ({
    day: dayNumber(date),
    at: setup.measure.kind === "latency" ? "top" : "foot",
    label: `${shortDate(date)}: ${words[setup.measure.kind] ?? "no figure"}`,
    page: `entries/${entry.entryId}`,
  }));
}

/** Parts points where a phase changes, school had a break, a day between them was not measured, or a total starts again. */
function inRuns(points: readonly Drawn[], more: ChartMore, isRestarted: boolean): Drawn[][] {
  const breaks = (more.breaks ?? []).map(({ fromOn, toOn }) => [dayNumber(fromOn), dayNumber(toOn)] as const);
  const silent = (more.marks ?? []).filter(({ kind }) => kind === "absent" || kind === "not measured");
  const isParted = (before: Drawn, after: Drawn) => {
    const [from, to] = [dayNumber(before.date), dayNumber(after.date)];
    return (
      (isRestarted && before.of !== after.of) ||
      before.phase !== after.phase ||
      breaks.some(([first, last]) => from < first && last < to) ||
      silent.some(({ day }) => from < day && day < to)
    );
  };
  const runs: Drawn[][] = [];
  for (const point of points) {
    const last = runs.at(-1)?.at(-1);
    if (last && !isParted(last, point)) runs.at(-1)?.push(point);
    else runs.push([point]);
  }
  return runs;
}

/** The line through the current phase, which the figures have on days since the first date, on day numbers. */
function fittedOnDays({ theilSen, from }: Progress): Progress["theilSen"] {
  return theilSen && from !== null
    ? { ...theilSen, intercept: theilSen.intercept - theilSen.slope * dayNumber(from) }
    : null;
}

const aimSteps = 24;

/** The aim line as points: two, or so many that it bends as a log axis bends it. */
function pathOfAim(aim: Progress["aim"], isLog: boolean): [number, number][] {
  if (!aim) return [];
  const [from, to] = [dayNumber(aim.from), dayNumber(aim.to)];
  const steps = isLog ? aimSteps : 1;
  return Array.from({ length: steps + 1 }, (_, at) => {
    const day = from + ((to - from) * at) / steps;
    return [day, aim.fromValue + ((aim.toValue - aim.fromValue) * at) / steps];
  });
}

/**
 * The geometry of a goal's chart after the conventions of single-case graphs: time on x to scale, 0 to 100 for
 * percentages, a line joining the points within a phase and none across a change, a gap or a break, a trend line with its band for
 * each phase of instruction with at least five points, aim line and criterion apart from the data.
 *
 * @returns null when there is nothing to draw: neither a measured point nor an aim line
 */
export function progressChart(
  setup: GoalSetup,
  series: GoalSeries,
  figures: Progress,
  more: ChartMore = {},
): ProgressChart | null {
  const { aim } = figures.decided;
  const points = drawnPoints(setup, series);
  const isTotal = setup.measure.kind === "running-total";
  const firstDate = series.all[0]?.date ?? aim?.from;
  const lastDate = series.all.at(-1)?.date ?? aim?.to;
  if (firstDate === undefined || lastDate === undefined) return null;
  const unit = unitOf(setup.measure);
  const dueDay = setup.dueOn ? dayNumber(setup.dueOn) : null;
  const firstDay = dayNumber(firstDate);
  const lastDay = Math.max(dayNumber(lastDate), dueDay ?? 0);
  const pad = Math.max(1, Math.round((lastDay - firstDay) * 0.015));
  const fromDay = firstDay - pad;
  const toDay = lastDay + pad;

  const others = more.others ?? [];
  const drawn = [
    ...points.map((point) => point.value),
    ...others.flatMap(({ runs }) => runs.flat().map(({ value }) => value)),
    ...(setup.criterion ? [setup.criterion.value] : []),
    ...(aim ? [aim.fromValue, aim.toValue] : []),
  ];
  const axis =
    (more.scale === "log" ? logAxis(drawn) : null) ?? valueAxis([...drawn, ...(more.alike ?? [])], unit);
  const helpOf = more.helpOf ?? (() => null);
  const helps = [...new Set(points.flatMap(({ entry }) => helpOf(entry.entryId) ?? []))];
  // Points without a level are circles, as the first level is.
  const shapes = helps.length > 1 || points.some(({ entry }) => !helpOf(entry.entryId)) ? helps : [];
  const per = pointUnit(setup);
  const shown = (point: Drawn) => chartPoint(point, unit, helpOf(point.entry.entryId), shapes, per);
  const metOn = figures.mastery?.on ?? null;
  return {
    ...{ fromDay, toDay, axis, unit, dueDay },
    periods: (more.periods ?? [])
      .filter(({ from, to }) => firstDate <= to && from <= lastDate)
      .map(({ key, words, from, to }) => ({ key, words, fromDay: dayNumber(from), toDay: dayNumber(to) })),
    axisTitle: axisTitle(setup.measure, per),
    runs: inRuns(points, more, startsAgain(setup.measure)).map((run) => run.map(shown)),
    edges: edgesOf(setup, series),
    phases: phaseMarks(setup.phases, fromDay, toDay),
    trends: [...groupBy(series.points, ({ phase }) => phase)].flatMap(([phase, ofPhase]) =>
      phase === baselinePhase || isTotal
        ? []
        : (trendLine(
            ofPhase.map(({ date, value }) => ({ day: dayNumber(date), value })),
            axis,
            phase === figures.currentPhase ? fittedOnDays(figures) : null,
          ) ?? []),
    ),
    aim: aim && {
      from: [dayNumber(aim.from), aim.fromValue],
      to: [dayNumber(aim.to), aim.toValue],
    },
    aimPath: pathOfAim(aim, axis.scale === "log"),
    criterion: setup.criterion?.value ?? null,
    met: metOn === null ? null : { day: dayNumber(metOn), label: chartTextEn.metOn(metOn) },
    ticks: timeTicks(fromDay, toDay),
    marks: (more.marks ?? []).filter(({ day }) => fromDay <= day && day <= toDay),
    shapes,
    others: [...others],
  };
}

/** The chart in words, for those who do not see it. */
export function chartDescription(
  { points, all }: GoalSeries,
  chart: ProgressChart,
  words: ChartTextWords = chartTextEn,
): string {
  const [first, last] = [points[0], points.at(-1)];
  const values = points.map((point) => point.value);
  return words.description({
    unit: chart.unit,
    points:
      first && last
        ? {
            ...{ n: points.length, from: first.date, to: last.date, last: last.value },
            ...{ lowest: Math.min(...values), highest: Math.max(...values) },
          }
        : null,
    notCounted: all.filter((point) => point.isOpen || (point.isShort && point.value !== null)).length,
    blank: chart.edges.length,
    criterion: chart.criterion,
    aim: chart.aim && {
      ...{ from: chart.aim.from[1], to: chart.aim.to[1], on: dateOfDay(chart.aim.to[0]) },
    },
    metOn: chart.met && dateOfDay(chart.met.day),
  });
}
