import { median } from "simple-statistics";
import type { Direction } from "../measures/direction-schema.ts";
import type { PhaseComparison } from "../phases/compare-phases.ts";
import { schoolBreaks } from "../schedule/breaks.ts";
import { daysInSession, reportingPeriodOn, type SchoolCalendar } from "../schedule/calendar.ts";
import { changesEn, type ChangesWords, type PairsArgs } from "../words/en/changes.ts";
import { dateOfDay, dayNumber } from "../dates/day-number.ts";
import type { FullFigures } from "./full-figures.ts";
import { baselinePhase } from "./progress.ts";

/** What changed since something, in a sentence with its counts. */
export interface ProgressChange {
  since: "baseline" | "phase" | "report" | "break";
  words: string;
  /** The same without statistics. */
  plain: string;
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

/** The pairs of a comparison for its words; null where there are none. */
export function pairsArgs(
  { nap, napLow, napHigh, pairs: { better, equal, worse } }: PhaseComparison,
  between: PairsArgs["between"],
): PairsArgs | null {
  if (nap === null) return null;
  return { nap, low: napLow, high: napHigh, of: better + equal + worse, hasTies: equal > 0, between };
}

function sinceBaseline({ figures, enteredBaseline, unit }: Material, words: ChangesWords): ProgressChange[] {
  const current = figures.phases.find(({ phase }) => phase === figures.currentPhase);
  const baseline = figures.phases.find(({ phase }) => phase === baselinePhase);
  if (!current || current.phase === baselinePhase) return [];
  const before = baseline?.median ?? enteredBaseline?.value;
  if (before === undefined) return [];
  const from = baseline ? { points: baseline.n } : { enteredFor: enteredBaseline?.date ?? "" };
  const compared = figures.comparisons.find(
    (one) => one.before === baselinePhase && one.after === current.phase,
  );
  const isCompared = compared && baseline && Math.min(baseline.n, current.n) >= fewestToCompare;
  const seen = isCompared ? pairsArgs(compared, "baseline") : null;
  const levels = { before, after: current.median, unit };
  return [
    {
      since: "baseline",
      words: words.sinceBaseline(levels, from, current.n, seen),
      plain: words.plainly({ kind: "baseline", name: "" }, levels),
    },
  ];
}

function sincePhase({ figures, nameOf, unit }: Material, words: ChangesWords): ProgressChange[] {
  const compared = figures.comparisons.find(({ after }) => after === figures.currentPhase);
  if (!compared || compared.before === baselinePhase) return [];
  const [before, after] = [compared.before, compared.after].map((name) =>
    figures.phases.find(({ phase }) => phase === name),
  );
  if (!before || !after) return [];
  const isFew = Math.min(before.n, after.n) < fewestToCompare;
  const levels = { before: before.median, after: after.median, unit };
  const n = { before: before.n, after: after.n };
  const seen = isFew ? null : pairsArgs(compared, "phases");
  const name = nameOf(after.phase);
  return [
    {
      since: "phase",
      words: words.sincePhase(name, levels, n, seen),
      plain: words.plainly({ kind: "phase", name }, levels),
    },
  ];
}

const middle = (points: readonly Dated[]) => median(points.map(({ value }) => value));

/** In the first reporting period, which has no report before it: from its first points to its last. */
function withinPeriod(
  { points, calendar, today, unit }: Pick<Material, "points" | "calendar" | "today" | "unit">,
  words: ChangesWords,
): ProgressChange[] {
  const period = reportingPeriodOn(calendar, today);
  const within = period ? points.filter(({ date }) => date >= period.fromOn) : [];
  if (!period || within.length < 2 * around) return [];
  const levels = { before: middle(within.slice(0, around)), after: middle(within.slice(-around)), unit };
  return [
    {
      since: "report",
      words: words.inPeriod(period.name, levels, around, within.length),
      plain: words.plainly({ kind: "this period", name: period.name }, levels),
    },
  ];
}

function sinceReport({ points, calendar, today, unit }: Material, words: ChangesWords): ProgressChange[] {
  const period = calendar.reportingPeriods
    .filter(({ toOn }) => toOn < today)
    .sort((a, b) => (a.toOn < b.toOn ? -1 : 1))
    .at(-1);
  if (!period) return withinPeriod({ points, calendar, today, unit }, words);
  const before = points.filter(({ date }) => date <= period.toOn).slice(-around);
  const after = points.filter(({ date }) => date > period.toOn);
  if (before.length === 0 || after.length === 0) return [];
  const levels = { before: middle(before), after: middle(after), unit };
  const n = { before: before.length, after: after.length };
  return [
    {
      since: "report",
      words: words.sincePeriod(period.name, period.toOn, levels, n),
      plain: words.plainly({ kind: "last period", name: period.name }, levels),
    },
  ];
}

/** How much one point usually differs from the next, beside what a break may have changed. */
const usualStep = (points: readonly Dated[]) =>
  median(points.slice(1).map(({ value }, at) => Math.abs(value - (points[at]?.value ?? value))));

/** Over a break of school: what was lost, and when it was back (for decisions on an extended school year; common practice). */
function aroundBreaks(
  { points, calendar, unit, direction }: Material,
  words: ChangesWords,
): ProgressChange[] {
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
      const levels = { before: level, after: middle(after), unit };
      return [
        {
          since: "break",
          plain: words.plainly({ kind: "break", name: span.name }, levels),
          words: words.overBreak({
            ...{ name: span.name, levels },
            n: { before: before.length, after: after.length },
            back: !isLost ? null : back ? { on: back.date, schoolDay: days(back.date) } : "not yet",
            step: usualStep(points),
          }),
        },
      ];
    })
    .slice(-mostBreaks);
}

/**
 * What changed since the baseline, since the last phase line, since the last reporting period, and over breaks of school. Levels
 * are medians; what is better is said by NAP, and never why.
 */
export const changesOf = (material: Material, words: ChangesWords = changesEn): ProgressChange[] =>
  [sinceBaseline, sincePhase, sinceReport, aroundBreaks].flatMap((changes) => changes(material, words));
