import { figure, slopeNumber, slopeSize } from "../amounts.ts";
import { dateWithYear } from "../dates.ts";
import { listed } from "../lists.ts";
import { counts, percent } from "../numbers.ts";
import { countOf } from "./count-of.ts";

/** What was measured in a reporting period: a median of points, or what has come together. */
export interface PeriodLevelArgs {
  /** What the student is called. */
  name: string;
  period: string;
  /** False while the period still runs. */
  isOver: boolean;
  value: number;
  unit: string;
  n: number;
  occasion: "session" | "day" | "week" | "month";
  /** Opportunities of all points together. */
  counted: { numerator: number; denominator: number } | null;
  isTotal: boolean;
  baseline: number | null;
  before: { name: string; value: number } | null;
}

/** One point with its day. */
export interface LatestArgs {
  value: number;
  unit: string;
  on: string;
  occasion: PeriodLevelArgs["occasion"];
  counted: PeriodLevelArgs["counted"];
}

/** What is to be reached by when. */
export interface TargetArgs {
  target: number;
  unit: string;
  direction: "increase" | "decrease";
  dueOn: string;
}

/** A week, towards the criterion; `gain` is null where no direction is clear. */
export interface GainArgs {
  gain: number | null;
  needed: number;
  unit: string;
  direction: "increase" | "decrease";
}

const periodWords = ({ period, isOver }: Pick<PeriodLevelArgs, "period" | "isOver">) =>
  isOver ? period : `${period} so far`;
const inCounts = (counted: PeriodLevelArgs["counted"], more = "") =>
  counted === null ? "" : ` (${counts(counted.numerator, counted.denominator)}${more})`;

/** The share that all opportunities together make is not the median of the points: it is given beside them. */
const inAll = ({ numerator, denominator }: NonNullable<PeriodLevelArgs["counted"]>) =>
  `, ${percent((100 * numerator) / Math.max(1, denominator))} in all`;

/** "in four sessions (11 of 32, 34% in all)" */
const occasions = ({ n, occasion, counted }: PeriodLevelArgs) =>
  `in ${countOf(n, occasion)}${inCounts(counted, counted ? inAll(counted) : "")}`;

/** ", compared with 38% in Trimester 1 and 25% at baseline" */
function compared({ baseline, before, unit }: PeriodLevelArgs): string {
  const others = [
    ...(before === null ? [] : [`${figure(before.value, unit)} in ${before.name}`]),
    ...(baseline === null ? [] : [`${figure(baseline, unit)} at baseline`]),
  ];
  return others.length === 0 ? "" : `, compared with ${listed(others)}`;
}

/** "reach 80% by Apr 19, 2027", "come down to 2 times by Apr 19, 2027" */
const toTarget = ({ target, unit, direction, dueOn }: TargetArgs) =>
  `${direction === "increase" ? "reach" : "come down to"} ${figure(target, unit)} by ${dateWithYear(dueOn)}`;

const verdicts = {
  enough: (target: string) => `Progress is enough to ${target}.`,
  "not-enough": (target: string) => `Progress is not enough to ${target}.`,
  unclear: (target: string) => `It is not clear yet whether progress is enough to ${target}.`,
  "too-early": (target: string) => `It is too early to tell whether progress is enough to ${target}.`,
};

function rate({ gain, needed, unit, direction }: GainArgs): string {
  const size = gain === null ? null : slopeSize(Math.abs(gain), unit);
  const [better, worse] = direction === "increase" ? ["gain", "loss"] : ["decrease", "increase"];
  const isThere = needed <= 0 || slopeNumber(needed, unit) === "0";
  if (size === null || gain === null)
    return isThere
      ? "The last points are at the criterion already."
      : `The goal needs ${slopeSize(needed, unit) ?? slopeNumber(needed, unit)} a week from here.`;
  const rest = isThere
    ? "the last points are at the criterion already"
    : `the goal needs ${slopeNumber(needed, unit)}`;
  return `The ${gain > 0 ? better : worse} is about ${size} a week; ${rest}.`;
}

/** The sentences of a progress statement that are drafted from the numbers, for the team and in plain words; English. */
export const statementEn = {
  label: (period: string) => `Progress report, ${period}`,
  rating: (rating: string) => `Rating: ${rating}.`,
  level: (args: PeriodLevelArgs) => {
    const { name, n, occasion, value, unit, counted, isTotal } = args;
    const period = periodWords(args);
    const shown = figure(value, unit);
    if (isTotal) return `By the end of ${period}, ${name} had ${shown} in all${compared(args)}.`;
    return n === 1
      ? `In ${period}, ${name} had one ${occasion}, at ${shown}${inCounts(counted)}${compared(args)}.`
      : `In ${period}, ${name}’s median was ${shown} ${occasions(args)}${compared(args)}.`;
  },
  baseline: (args: PeriodLevelArgs) =>
    `In ${periodWords(args)}, the baseline was measured: ${figure(args.value, args.unit)} ${occasions(args)}.`,
  notMeasured: (period: string, isOver: boolean) =>
    `This goal was not measured in ${periodWords({ period, isOver })}.`,
  latest: ({ value, unit, on, occasion, counted }: LatestArgs) =>
    `The latest ${occasion}, on ${dateWithYear(on)}, was at ${figure(value, unit)}${inCounts(counted)}.`,
  met: (on: string | null) => (on === null ? "The goal is met." : `The goal was met on ${dateWithYear(on)}.`),
  reached: () => "The criterion is reached. The team has not confirmed it yet.",
  lost: () => "The criterion was reached earlier and is no longer met.",
  pastDue: (on: string) => `The goal was due on ${dateWithYear(on)} and is not reached.`,
  pace: (verdict: keyof typeof verdicts, args: TargetArgs) => verdicts[verdict](toTarget(args)),
  rate,
  noDueDate: () => "No due date is set.",
  noCriterion: () => "The goal has no criterion yet.",
  plainLevel: (args: PeriodLevelArgs) => {
    const { name, n, value, unit, counted, isTotal, baseline, before } = args;
    const period = periodWords(args);
    const shown = figure(value, unit);
    const now = isTotal
      ? `By the end of ${period}, ${name} had ${shown} in all.`
      : n === 1
        ? `In ${period}, this goal was measured once: ${shown}${inCounts(counted)}.`
        : `In ${period}, this goal was measured ${countOf(n, "time")}. ${name}’s usual result was ${shown}.`;
    return [
      now,
      before === null ? "" : `In ${before.name}, it was ${figure(before.value, unit)}.`,
      baseline === null ? "" : `At first, it was ${figure(baseline, unit)}.`,
    ]
      .filter(Boolean)
      .join(" ");
  },
  plainBaseline: (args: PeriodLevelArgs) =>
    `In ${periodWords(args)}, the team measured where ${args.name} starts: ${figure(args.value, args.unit)}.`,
  plainLatest: ({ value, unit, on, counted }: LatestArgs) =>
    `The last time, on ${dateWithYear(on)}, it was ${figure(value, unit)}${inCounts(counted)}.`,
  plainPace: (verdict: keyof typeof verdicts, name: string, dueOn: string) =>
    ({
      enough: `At this pace, ${name} will reach this goal by ${dateWithYear(dueOn)}.`,
      "not-enough": `At this pace, ${name} will not reach this goal by ${dateWithYear(dueOn)}.`,
      unclear: `It is not clear yet whether ${name} will reach this goal by ${dateWithYear(dueOn)}.`,
      "too-early": `It is too early to tell whether ${name} will reach this goal by ${dateWithYear(dueOn)}.`,
    })[verdict],
};

/** The drafted sentences of a progress statement, in one language. */
export type StatementWords = typeof statementEn;
