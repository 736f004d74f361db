import { figure, shownValue, slopeSize } from "../amounts.ts";
import { dateWithYear, shortDate } from "../dates.ts";
import { weekdayName } from "../../dates/week.ts";
import { counts, inDigits, percent, plural } from "../numbers.ts";
import { type CreditedArgs, creditedHelp } from "./credited.ts";

/** Two levels in the unit of the measure, each a median. */
export interface LevelsArgs {
  before: number;
  after: number;
  unit: string;
}

/** Since when something changed; `name` is that of the phase, the reporting period or the break. */
export interface ChangeSince {
  kind: "baseline" | "phase" | "this period" | "last period" | "break";
  name: string;
}

/** Pairs of an earlier and a later point: NAP with its 95% interval, each 0 to 1. */
export interface PairsArgs {
  nap: number;
  low: number | null;
  high: number | null;
  /** How many pairs, and whether any of them are equal. */
  of: number;
  hasTies: boolean;
  /** What is compared. */
  between: "baseline" | "phases" | "points";
}

const pairNames = {
  baseline: ["points since the change", "baseline points"],
  phases: ["points since the change", "points before it"],
  points: ["later points", "earlier points"],
} as const;

/** The difference of two values as they are shown: what a reader computes. */
export const shownDifference = ({ before, after, unit }: LevelsArgs): number =>
  shownValue(after, unit) - shownValue(before, unit);

/** "+33 points", "−12 s", "no change" */
function difference(args: LevelsArgs): string {
  const { unit } = args;
  const change = shownDifference(args);
  const points = Math.round(Math.abs(change));
  const size =
    unit === "percent"
      ? points === 0
        ? null
        : `${inDigits(points)} ${plural(points, "point")}`
      : slopeSize(Math.abs(change), unit);
  return size === null ? "no change" : `${change > 0 ? "+" : "−"}${size}`;
}

const levels = (args: LevelsArgs) =>
  `${figure(args.before, args.unit)} → ${figure(args.after, args.unit)}, ${difference(args)}`;

/** "points since the change beat baseline points in 89% of 36 comparisons (95% interval 71–96)" */
function pairs({ nap, low, high, of, hasTies, between }: PairsArgs): string {
  const [after, before] = pairNames[between];
  const asides = [
    hasTies ? "ties count half" : "",
    low === null || high === null ? "" : `95% interval ${Math.round(100 * low)}–${Math.round(100 * high)}`,
  ].filter(Boolean);
  const aside = asides.length > 0 ? ` (${asides.join("; ")})` : "";
  return `${after} beat ${before} in ${percent(100 * nap)} of ${inDigits(of)} ${plural(of, "comparison")}${aside}`;
}

const andPairs = (args: PairsArgs | null) => (args === null ? "" : `; ${pairs(args)}`);

const usually = (step: number, unit: string) => {
  const size = slopeSize(step, unit);
  return size === null ? "" : ` One point usually differs from the next by ${size}.`;
};

/** What changed, and what to keep in mind with it, in whole sentences; English. */
export const changesEn = {
  difference,
  pairs,
  /** @param from a baseline that was observed in so many points, or was entered for a day */
  sinceBaseline: (
    args: LevelsArgs,
    from: { points: number } | { enteredFor: string },
    n: number,
    seen: PairsArgs | null,
  ) => {
    const what =
      "points" in from
        ? `median of ${inDigits(from.points)} baseline ${plural(from.points, "point")}`
        : `entered for ${dateWithYear(from.enteredFor)}`;
    return `Since baseline: ${levels(args)} (${what}, of ${inDigits(n)} now)${andPairs(seen)}.`;
  },
  sincePhase: (
    name: string,
    args: LevelsArgs,
    n: { before: number; after: number },
    seen: PairsArgs | null,
  ) =>
    `Since “${name}” began: ${levels(args)} (medians of ${inDigits(n.before)} ${plural(n.before, "point")} before, ${inDigits(n.after)} since)${
      seen === null ? "; at least three points on each side are needed to compare more" : andPairs(seen)
    }.`,
  inPeriod: (name: string, args: LevelsArgs, each: number, n: number) =>
    `In ${name} so far: ${levels(args)} (medians of the first ${inDigits(each)} and the last ${inDigits(each)} of ${inDigits(n)}).`,
  sincePeriod: (name: string, endedOn: string, args: LevelsArgs, n: { before: number; after: number }) =>
    `Since ${name} ended on ${shortDate(endedOn)}: ${levels(args)} (medians of the last ${inDigits(n.before)} then, ${inDigits(n.after)} since).`,
  /** @param back whether a level lost over the break is back, and on which school day after it; null where none was lost */
  overBreak: (args: {
    name: string;
    levels: LevelsArgs;
    n: { before: number; after: number };
    back: { on: string; schoolDay: number } | "not yet" | null;
    /** How much one point usually differs from the next. */
    step: number;
  }) => {
    const { name, n, back, step } = args;
    const level = figure(args.levels.before, args.levels.unit);
    const tail =
      back === null
        ? ""
        : back === "not yet"
          ? `; not back at ${level} yet`
          : `; back at ${level} on ${shortDate(back.on)}, school day ${inDigits(back.schoolDay)} after it`;
    return `Over ${name}: ${levels(args.levels)} (medians of the last ${inDigits(n.before)} before, the first ${inDigits(n.after)} after)${tail}.${usually(step, args.levels.unit)}`;
  },
  /** The same in plain words, without statistics: for families and for a wall. */
  plainly: (since: ChangeSince, { before, after, unit }: LevelsArgs) => {
    const [was, is] = [figure(before, unit), figure(after, unit)];
    const when = {
      baseline: () => "Since the start",
      phase: (name: string) => `Since “${name}” began`,
      "this period": (name: string) => `In ${name} so far`,
      "last period": (name: string) => `Since ${name} ended`,
      break: (name: string) => `Over ${name}`,
    }[since.kind](since.name);
    return was === is ? `${when}: about the same, ${is}.` : `${when}: from ${was} to ${is}.`;
  },
  blankPoints: (n: number, of: number) =>
    `${inDigits(n)} of ${inDigits(of)} ${plural(of, "point")} in this phase gave no figure. The trend leaves ${plural(n, "it", "them")} out.`,
  /** @param few phases of few points; a name of null is the baseline */
  fewToCompare: (few: readonly { name: string | null; n: number }[]) =>
    `Few points to compare: ${few
      .map(({ name, n }) => `${inDigits(n)} in ${name === null ? "the baseline" : `“${name}”`}`)
      .join(", ")}. At least five per phase are recommended.`,
  changedWithPhase: (what: "observer" | "setting", from: string, to: string) =>
    `The ${what} changed with the phase, from ${from} to ${to}. That may explain the difference.`,
  fewOpportunities: (usual: number) =>
    `A point rests on ${inDigits(usual)} ${plural(usual, "opportunity", "opportunities")}: one more or less moves it by ${inDigits(Math.round(100 / usual))} points.`,
  lowAgreement: (agreed: number, sessions: number, wanted: number) =>
    `Two observers agreed in ${percent(agreed)} (middle of ${inDigits(sessions)} ${plural(sessions, "session")}); at least ${percent(wanted)} is recommended.`,
  /** @param credited what is credited: "with a verbal prompt or less" */
  independence: (level: string, perWeek: number, credited: CreditedArgs) =>
    `Independence is growing: opportunities at “${level}” rise ${slopeSize(perWeek, "percent")} a week, while credited opportunities (${creditedHelp(credited)}) stay level.`,
  /** One of several people, settings or weekdays: its percentage with its counts, or the mean of its sessions. */
  pooledShare: (value: number, numerator: number, denominator: number) =>
    `${percent(value)} (${counts(numerator, denominator)})`,
  weekday: weekdayName,
  meanOfSessions: (value: number, unit: string) => `mean of sessions ${figure(value, unit)}`,
};

/** What changed, and cautions, in one language. */
export type ChangesWords = typeof changesEn;
