import { median } from "simple-statistics";
import type { Direction } from "../measures/direction-schema.ts";
import type { PhaseComparison } from "../phases/compare-phases.ts";
import { schoolBreaks } from "../schedule/breaks.ts";
import { daysInSession, reportingPeriodOn, type SchoolCalendar } from "../schedule/calendar.ts";
import { figure, shownValue, slopeSize } from "../words/amounts.ts";
import { dateWithYear, shortDate } from "../words/dates.ts";
import { percent, plural } from "../words/numbers.ts";
import { dateOfDay, dayNumber } from "../dates/day-number.ts";
import type { FullFigures } from "./full-figures.ts";
import { baselinePhase } from "./progress.ts";

/** What changed since something, in a sentence with its counts. */
export interface ProgressChange {
  since: "baseline" | "phase" | "report" | "break";
  words: string;
}

interface Dated {
  date: string;
  value: number;
}

interface Material {
  figures: Pick<FullFigures, "phases" | "comparisons" | "currentPhase">;
  /** In date order. */
  points: readonly Dated[];
  /** A baseline that was entered rather than observed. */
  enteredBaseline: Dated | null;
  /** What a phase of the figures is called. */
  nameOf: (phase: string) => string;
  unit: string;
  direction: Direction;
  calendar: SchoolCalendar;
  today: string;
}

/** A phase needs three points to be compared (What Works Clearinghouse, single-case design standards). */
export const fewestToCompare = 3;
/** So many points stand for how it was on either side of a day. */
const around = 3;
const mostBreaks = 2;

/** "+33 points", "−12 s", "no change": the difference of the two values as they are shown. */
export function differenceWords(before: number, after: number, unit: string): string {
  const difference = shownValue(after, unit) - shownValue(before, unit);
  const whole = Math.round(Math.abs(difference));
  const size =
    unit === "percent"
      ? whole === 0
        ? null
        : `${whole} ${plural(whole, "point")}`
      : slopeSize(Math.abs(difference), unit);
  return size === null ? "no change" : `${difference > 0 ? "+" : "−"}${size}`;
}

const levels = (before: number, after: number, unit: string) =>
  `${figure(before, unit)} → ${figure(after, unit)}, ${differenceWords(before, after, unit)}`;

/** "points since the change beat baseline points in 89% of 36 comparisons (95% interval 71–96)" */
export function napWords(
  { nap, napLow, napHigh, pairs }: PhaseComparison,
  [after, before]: readonly [after: string, before: string] = ["later points", "earlier points"],
): string | null {
  if (nap === null) return null;
  const all = pairs.better + pairs.equal + pairs.worse;
  const asides = [
    pairs.equal > 0 ? "ties count half" : "",
    napLow === null || napHigh === null
      ? ""
      : `95% interval ${Math.round(100 * napLow)}–${Math.round(100 * napHigh)}`,
  ].filter(Boolean);
  return `${after} beat ${before} in ${percent(100 * nap)} of ${all} comparisons${asides.length > 0 ? ` (${asides.join("; ")})` : ""}`;
}

function sinceBaseline({ figures, enteredBaseline, unit }: Material): ProgressChange[] {
  const current = figures.phases.find(({ phase }) => phase === figures.currentPhase);
  const baseline = figures.phases.find(({ phase }) => phase === baselinePhase);
  if (!current || current.phase === baselinePhase) return [];
  const [from, said] = baseline
    ? [baseline.median, `median of ${baseline.n} baseline ${plural(baseline.n, "point")}`]
    : enteredBaseline
      ? [enteredBaseline.value, `entered for ${dateWithYear(enteredBaseline.date)}`]
      : [null, ""];
  if (from === null) return [];
  const compared = figures.comparisons.find(
    ({ before, after }) => before === baselinePhase && after === current.phase,
  );
  const pairs =
    compared && baseline && Math.min(baseline.n, current.n) >= fewestToCompare
      ? napWords(compared, ["points since the change", "baseline points"])
      : null;
  return [
    {
      since: "baseline",
      words: `Since baseline: ${levels(from, current.median, unit)} (${said}, of ${current.n} now)${pairs ? `; ${pairs}` : ""}.`,
    },
  ];
}

function sincePhase({ figures, nameOf, unit }: Material): ProgressChange[] {
  const compared = figures.comparisons.find(({ after }) => after === figures.currentPhase);
  if (!compared || compared.before === baselinePhase) return [];
  const [before, after] = [compared.before, compared.after].map((name) =>
    figures.phases.find(({ phase }) => phase === name),
  );
  if (!before || !after) return [];
  const few = Math.min(before.n, after.n) < fewestToCompare;
  const pairs = few ? null : napWords(compared, ["points since the change", "points before it"]);
  const tail = pairs ? `; ${pairs}` : `; at least three points on each side are needed to compare more`;
  return [
    {
      since: "phase",
      words: `Since “${nameOf(after.phase)}” began: ${levels(before.median, after.median, unit)} (medians of ${before.n} points before, ${after.n} since)${tail}.`,
    },
  ];
}

const middle = (points: readonly Dated[]) => median(points.map(({ value }) => value));

/** In the first reporting period, which has no report before it: from its first points to its last. */
function withinPeriod({
  points,
  calendar,
  today,
  unit,
}: Pick<Material, "points" | "calendar" | "today" | "unit">): ProgressChange[] {
  const period = reportingPeriodOn(calendar, today);
  const within = period ? points.filter(({ date }) => date >= period.fromOn) : [];
  if (!period || within.length < 2 * around) return [];
  return [
    {
      since: "report",
      words: `In ${period.name} so far: ${levels(middle(within.slice(0, around)), middle(within.slice(-around)), unit)} (medians of the first ${around} and the last ${around} of ${within.length}).`,
    },
  ];
}

function sinceReport({ points, calendar, today, unit }: Material): ProgressChange[] {
  const period = calendar.reportingPeriods
    .filter(({ toOn }) => toOn < today)
    .sort((a, b) => (a.toOn < b.toOn ? -1 : 1))
    .at(-1);
  if (!period) return withinPeriod({ points, calendar, today, unit });
  const before = points.filter(({ date }) => date <= period.toOn).slice(-around);
  const after = points.filter(({ date }) => date > period.toOn);
  if (before.length === 0 || after.length === 0) return [];
  return [
    {
      since: "report",
      words: `Since ${period.name} ended on ${shortDate(period.toOn)}: ${levels(middle(before), middle(after), unit)} (medians of the last ${before.length} then, ${after.length} since).`,
    },
  ];
}

/** How much one point usually differs from the next, beside what a break may have changed. */
function spreadWords(points: readonly Dated[], unit: string): string {
  const steps = points.slice(1).map(({ value }, at) => Math.abs(value - (points[at]?.value ?? value)));
  const size = slopeSize(median(steps), unit);
  return size === null ? "" : ` One point usually differs from the next by ${size}.`;
}

/** Over a break of school: what was lost, and when it was back (for decisions on an extended school year; common practice). */
function aroundBreaks({ points, calendar, unit, direction }: Material): ProgressChange[] {
  const first = points[0];
  if (!first) return [];
  const better = direction === "increase" ? 1 : -1;
  return schoolBreaks(calendar)
    .flatMap((span): ProgressChange[] => {
      const before = points.filter(({ date }) => date < span.fromOn).slice(-around);
      const since = points.filter(({ date }) => date > span.toOn);
      const after = since.slice(0, around);
      if (before.length < around || after.length < around) return [];
      const level = middle(before);
      const isLost = better * (middle(after) - level) < 0;
      // One good day is no return: the median of three points in a row is.
      const back = isLost
        ? since.find(
            (_, at) => at >= around && better * (middle(since.slice(at - around + 1, at + 1)) - level) >= 0,
          )
        : undefined;
      const days = (until: string) =>
        daysInSession(calendar, dateOfDay(dayNumber(span.toOn) + 1), until).length;
      const tail = !isLost
        ? ""
        : back
          ? `; back at ${figure(level, unit)} on ${shortDate(back.date)}, school day ${days(back.date)} after it`
          : `; not back at ${figure(level, unit)} yet`;
      return [
        {
          since: "break",
          words: `Over ${span.name}: ${levels(level, middle(after), unit)} (medians of the last ${before.length} before, the first ${after.length} after)${tail}.${spreadWords(points, unit)}`,
        },
      ];
    })
    .slice(-mostBreaks);
}

/**
 * What changed since the baseline, since the last phase line, since the last reporting period, and over breaks of school. Levels
 * are medians; what is better is said by NAP, and never why.
 */
export const changesOf = (material: Material): ProgressChange[] => [
  ...sinceBaseline(material),
  ...sincePhase(material),
  ...sinceReport(material),
  ...aroundBreaks(material),
];
