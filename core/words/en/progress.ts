import { figure, number, plainFigure, slopeNumber, slopeSize, slopeUnit } from "../amounts.ts";
import { dateWithYear, fullMonth, shortDate } from "../dates.ts";
import { capitalise, counts, countWord, percent } from "../numbers.ts";
import { countOf } from "./count-of.ts";

/** Changes a week, in the unit of the measure. */
export interface SlopeArgs {
  perWeek: number;
  /** Its 95% interval; null where all values are equal. */
  low: number | null;
  high: number | null;
  unit: string;
}

/** Pace, everything towards the criterion positive, in the unit a week. */
export interface PaceArgs {
  gain: number;
  low: number;
  high: number;
  needed: number;
  direction: "increase" | "decrease";
  unit: string;
  verdict: "enough" | "not-enough" | "unclear";
}

/** So many points over so many weeks of a phase. */
export interface SeenArgs {
  points: number;
  weeks: number;
}

/** What may come on the due date, within what the measure can be (`least` to `greatest`). */
export interface OutlookArgs {
  dueOn: string;
  mean: number;
  /** The 80% prediction interval. */
  low: number;
  high: number;
  least: number;
  greatest: number;
  unit: string;
  /** The chance, 0 to 1, to meet a criterion; null without one. */
  chance: { probability: number; value: number; direction: "increase" | "decrease" } | null;
}

const verdicts = {
  enough: "The pace is enough.",
  "not-enough": "The pace is not enough.",
  unclear: "It is not clear yet whether the pace is enough.",
};

function interval({ low, high, unit }: SlopeArgs, isWithUnit: boolean): string {
  const [from, to] = [slopeNumber(low ?? 0, unit), slopeNumber(high ?? 0, unit)];
  if (low === null || high === null || (from === "0" && to === "0")) return "";
  return ` (95% interval ${from} to ${to}${isWithUnit ? `${` ${slopeUnit(unit)}`.trimEnd()} a week` : ""})`;
}

/** "Rising 5½ points a week", "Level" */
function slope(perWeek: number, unit: string): string {
  const size = slopeSize(Math.abs(perWeek), unit);
  return size === null ? "Level" : `${perWeek > 0 ? "Rising" : "Falling"} ${size} a week`;
}

function direction(key: "rising" | "falling", args: SlopeArgs): string {
  const size = slopeSize(Math.abs(args.perWeek), args.unit);
  return size === null
    ? `Level, ${key} slightly${interval(args, false)}.`
    : `${key === "rising" ? "Rising" : "Falling"} about ${size} a week${interval(args, false)}.`;
}

/** The last points and what is needed from here: "The goal needs 3 points a week from here." */
const needs = (needed: number, unit: string) =>
  needed <= 0
    ? "The last points are at the criterion already."
    : `The goal needs ${slopeSize(needed, unit) ?? number(needed)} a week from here.`;

function gaining({ gain, low, high, needed, direction: towards, unit, verdict }: PaceArgs): string {
  const size = slopeSize(Math.abs(gain), unit) ?? `${number(Math.abs(gain))} ${slopeUnit(unit)}`.trimEnd();
  const [better, worse] = towards === "increase" ? ["Gaining", "Losing"] : ["Coming down", "Going up"];
  // Towards the criterion is written without a sign, away from it with a minus.
  const ends = (gain >= 0 ? [low, high] : [-high, -low]).map((end) => slopeNumber(end, unit));
  const rest =
    needed <= 0
      ? "the last points are at the criterion already"
      : `the goal needs ${slopeNumber(needed, unit)}`;
  return `${gain > 0 ? better : worse} about ${size} a week (${ends.join(" to ")}); ${rest}. ${verdicts[verdict]}`;
}

const seen = ({ points, weeks }: SeenArgs) =>
  `${capitalise(countOf(points, "point"))} over ${countOf(weeks, "week")} in this phase.`;

const taughtThrough = (on: string) => `The goal was taught as planned through ${shortDate(on)}.`;

/** Where an end lies outside the measure's range, by the other end alone. */
function spread({ low, high, least, greatest, unit }: OutlookArgs): string {
  if (low >= least && high <= greatest)
    return `, between ${plainFigure(low, unit)} and ${figure(high, unit)} in 8 of 10 cases`;
  if (low >= least) return `, above ${figure(low, unit)} in 9 of 10 cases`;
  return high <= greatest ? `, below ${figure(high, unit)} in 9 of 10 cases` : "";
}

function chanceOf({ chance, unit }: OutlookArgs): string {
  if (chance === null) return "";
  const { probability, value, direction: towards } = chance;
  // A chance is never none and never certain.
  const shown =
    probability < 0.01
      ? `below ${percent(1)}`
      : probability > 0.99
        ? `above ${percent(99)}`
        : percent(100 * probability);
  return `; the chance that it ${towards === "increase" ? "reaches" : "stays at or below"} ${figure(value, unit)} is ${shown}`;
}

/** "20 of 300 minutes" */
const towardsTarget = (total: number, target: number, unit: string) => `${counts(total, target)} ${unit}`;

const days = (left: number) => `${countOf(left, "school day")} left`;

/** Trend, pace, advice, outlook, and a period that is still running, in whole sentences; English. */
export const progressEn = {
  slope,
  tooFewForTrend: (n: number) =>
    n === 0
      ? "No points in this phase yet."
      : `Too few points for a trend: ${countWord(n)} so far, five are needed.`,
  noTrend: (args: SlopeArgs) => `No clear trend${interval(args, true)}.`,
  level: (args: SlopeArgs) => `Level${interval(args, false)}.`,
  direction,
  paceTooEarly: (needed: number, unit: string) => `${needs(needed, unit)} It is too early to tell the pace.`,
  paceFromHere: (needed: number, unit: string, verdict: PaceArgs["verdict"]) =>
    `${needs(needed, unit)} ${verdicts[verdict]}`,
  pace: gaining,
  confirm: () => "The criterion is reached. Confirm the goal as met.",
  raise: (args: SeenArgs) => `${seen(args)} Consider a more ambitious goal.`,
  /** @param taughtOn the day through which it was taught as planned; null where that is not known */
  change: (args: SeenArgs, taughtOn: string | null) =>
    `${seen(args)} ${
      taughtOn === null
        ? "Was the goal taught as planned? If it was, change something."
        : `${taughtThrough(taughtOn)} Change something.`
    }`,
  askTaught: (args: SeenArgs) => `${seen(args)} Was the goal taught as planned?`,
  duePassed: () => "The due date has passed.",
  tooFewToProject: () => "A projection needs six points on three days in this phase.",
  noSpread: () => "All points are on one line, so no spread can be shown.",
  tooEarlyToProject: () => "It is too early to project to the due date.",
  wouldPass: (end: number, unit: string) =>
    `The trend would pass ${figure(end, unit)}, so no projection is shown.`,
  outlook: (args: OutlookArgs) =>
    `If this continues, one session on ${dateWithYear(args.dueOn)} would be at about ${figure(args.mean, args.unit)}${spread(args)}${chanceOf(args)}.`,
  totalSoFar: (total: number, target: number, unit: string) =>
    `${towardsTarget(total, target, unit)} so far.`,
  /** @param daysLeft school days of the period after today */
  totalThisPeriod: (args: {
    period: "week" | "month";
    on: string;
    total: number;
    target: number;
    unit: string;
    daysLeft: number;
  }) =>
    `${args.period === "month" ? fullMonth(args.on) : "This week"}: ${towardsTarget(args.total, args.target, args.unit)}, ${days(args.daysLeft)}.`,
  totalLastPeriod: (args: {
    period: "week" | "month";
    on: string;
    total: number;
    target: number;
    unit: string;
  }) =>
    `${args.period === "month" ? fullMonth(args.on) : "Last week"}: ${towardsTarget(args.total, args.target, args.unit)}.`,
  runningPeriod: (period: "day" | "week" | "month", value: number, unit: string) =>
    `${period === "day" ? "Today" : `This ${period}`} so far: ${figure(value, unit)}. It counts when the ${period} is over.`,
};

/** Trend, pace, advice and outlook in one language. */
export type ProgressWords = typeof progressEn;
