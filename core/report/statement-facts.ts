import { median } from "simple-statistics";
import * as z from "zod/mini";
import type { DateSpan } from "../dates/date-span.ts";
import { unitOf } from "../measures/measure.ts";
import { type GoalPoint, type GoalSeries, isAveraged } from "../progress/points.ts";
import { baselinePhase } from "../progress/progress.ts";
import type { SchoolCalendar } from "../schedule/calendar.ts";
import { standingKeys } from "../progress/standing.ts";
import type { GoalSetup } from "../model/goal.ts";
import type { Decided } from "../progress/decide.ts";
import type { FullFigures } from "../progress/full-figures.ts";

/** The format of stored facts that this program writes. */
const statementFormat = 1;

const counted = z.nullable(z.object({ numerator: z.number(), denominator: z.number() }));

/**
 * The numbers of a progress statement, without words: each language makes its sentences of them. They are stored when a statement is
 * marked ready, so that it says later what its writer read. Values are in the unit of the measure, levels are medians of points.
 */
export const statementFactsSchema = z.object({
  format: z.literal(statementFormat),
  /** `through` is the last day that was counted; before its last day the period still runs. */
  period: z.object({ name: z.string(), from: z.iso.date(), through: z.iso.date(), isOver: z.boolean() }),
  unit: z.string(),
  occasion: z.enum(["session", "day", "week", "month"]),
  direction: z.enum(["increase", "decrease"]),
  /** A total that never starts again: levels are what has come together, not medians. */
  isTotal: z.boolean(),
  baseline: z.nullable(z.number()),
  /** The reporting period before, where the goal was measured in it. */
  before: z.nullable(z.object({ name: z.string(), value: z.number() })),
  /** Null where the goal was not measured in the period. The baseline is part of it only where nothing came after. */
  now: z.nullable(z.object({ value: z.number(), n: z.int(), counted, isBaseline: z.boolean() })),
  /** The last point of all, of an earlier period too. */
  latest: z.nullable(z.object({ value: z.number(), on: z.iso.date(), counted })),
  standing: z.enum(standingKeys),
  metOn: z.nullable(z.iso.date()),
  dueOn: z.nullable(z.iso.date()),
  target: z.nullable(z.number()),
  pace: z.enum(["enough", "not-enough", "unclear", "too-early", "none"]),
  /** A week, towards the criterion: negative leads away from it. `gain` is null where no direction is clear. */
  gain: z.nullable(z.number()),
  needed: z.nullable(z.number()),
});
export interface StatementFacts extends z.infer<typeof statementFactsSchema> {}

const countsOf = (points: readonly GoalPoint[], isSummed: boolean) => {
  const all = points.map(({ entry: { numerator, denominator } }) => ({ numerator, denominator }));
  if (!isSummed || all.some(({ numerator, denominator }) => numerator === null || denominator === null))
    return null;
  const sum = (of: "numerator" | "denominator") => all.reduce((total, one) => total + (one[of] ?? 0), 0);
  return { numerator: sum("numerator"), denominator: sum("denominator") };
};

/** The reporting period before another; null for the first. */
const periodBefore = ({ reportingPeriods }: Pick<SchoolCalendar, "reportingPeriods">, { fromOn }: DateSpan) =>
  reportingPeriods.filter(({ toOn }) => toOn < fromOn).sort((a, b) => (a.toOn < b.toOn ? 1 : -1))[0] ?? null;

/**
 * What the numbers say of a goal in a reporting period: baseline, the period before, this one, counts, sessions, and whether the pace is
 * enough to reach the goal by its due date.
 *
 * @param judged as the numbers say it on the last day of the period, or today where it still runs
 * @param through that day
 *
 * Source: progress is measured and reported periodically (34 CFR 300.320(a)(3)); whether it is enough to reach the goal by its date is
 * what most districts' forms ask (common practice). Medians of the points of a period are ours, as elsewhere in the report.
 */
export function statementFacts(
  {
    goal: { setup },
    series,
    figures,
    decided,
  }: {
    goal: { setup: GoalSetup };
    series: GoalSeries;
    figures: Pick<FullFigures, "phases" | "decided">;
    decided: Decided;
  },
  period: DateSpan,
  { calendar, through }: { calendar: Pick<SchoolCalendar, "reportingPeriods">; through: string },
): StatementFacts {
  const { measure } = setup;
  const unit = unitOf(measure);
  const isTotal = measure.kind === "running-total" && measure.startsAgain === undefined;
  const isSummed = unit === "percent" && !isAveraged(measure);
  const sign = setup.criterion?.direction === "decrease" ? -1 : 1;
  const levelOf = (points: readonly GoalPoint[]) =>
    isTotal ? (points.at(-1)?.value ?? 0) : median(points.map(({ value }) => value));
  const within = ({ fromOn, toOn }: DateSpan) =>
    series.points.filter(({ date }) => fromOn <= date && date <= toOn);
  const taught = (points: readonly GoalPoint[]) => points.filter(({ phase }) => phase !== baselinePhase);
  const measured = within({ ...period, toOn: through });
  const isBaseline = measured.length > 0 && taught(measured).length === 0;
  const now = isBaseline ? measured : taught(measured);
  const earlier = periodBefore(calendar, period);
  const then = earlier === null ? [] : taught(within(earlier));
  const last = series.points.at(-1);
  const slope = decided.pace.tellsGain ? figures.decided.slope : null;
  const { neededPerWeek } = decided.pace;
  return {
    format: statementFormat,
    period: { name: period.name, from: period.fromOn, through, isOver: through >= period.toOn },
    ...{ unit, occasion: series.unit, isTotal, direction: setup.criterion?.direction ?? "increase" },
    baseline: isBaseline
      ? null
      : (figures.phases.find(({ phase }) => phase === baselinePhase)?.median ??
        setup.enteredBaseline?.value ??
        null),
    before: earlier === null || then.length === 0 ? null : { name: earlier.name, value: levelOf(then) },
    now:
      now.length === 0
        ? null
        : { value: levelOf(now), n: now.length, counted: countsOf(now, isSummed), isBaseline },
    latest: last ? { value: last.value, on: last.date, counted: countsOf([last], isSummed) } : null,
    standing: decided.standing.key,
    ...{ metOn: setup.metOn, dueOn: setup.dueOn, target: setup.criterion?.value ?? null },
    pace: decided.pace.key,
    gain: slope && sign * slope.perWeek,
    needed: neededPerWeek === null ? null : sign * neededPerWeek,
  };
}

/** Do two times of reading give the same figures? What a day less to the due date changes is no other figure. */
export function isSameMeasured(a: StatementFacts, b: StatementFacts): boolean {
  const measured = ({ baseline, before, now, latest, standing, pace, target, dueOn }: StatementFacts) =>
    JSON.stringify([baseline, before, now, latest, standing, pace, target, dueOn]);
  return measured(a) === measured(b);
}
