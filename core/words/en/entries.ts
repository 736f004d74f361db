import { figure, lengthOfTime, number } from "../amounts.ts";
import { fullMonth } from "../dates.ts";
import { type CreditedArgs, creditedHelp } from "./credited.ts";
import { counts, countsWithPercent, inDigits, percent, plural } from "../numbers.ts";

/** A percentage with the counts it is made of; without counts it is a percentage only, without a value not scored. */
export interface ShareArgs {
  value: number | null;
  numerator: number | null;
  denominator: number | null;
}

const orNone = (count: number, words: string) => (count > 0 ? `, ${inDigits(count)} ${words}` : "");

const spans = { total: "in all", mean: "a bout on average", longest: "the longest" } as const;

/**
 * What a report says of one entry, after the title of its goal and before its full stop; English.
 *
 * Names that a school or a teacher gave (what is counted, levels, steps) are arguments and stay as they are.
 */
export const entriesEn = {
  trials: (share: ShareArgs) => countsWithPercent(share, "correct"),
  checklist: (share: ShareArgs) => countsWithPercent(share, "known"),
  promptLevels: (
    share: ShareArgs,
    credited: CreditedArgs,
    seen: readonly { level: string; count: number }[],
  ) =>
    `${countsWithPercent(share, creditedHelp(credited))}: ${seen.map(({ level, count }) => `${inDigits(count)} ${level}`).join(", ")}`,
  skills: (share: ShareArgs, credited: CreditedArgs) =>
    countsWithPercent(share, `skills ${creditedHelp(credited)}`),
  skillsOpen: (marked: number, all: number) => `not finished, ${counts(marked, all)} marked`,
  steps: (share: ShareArgs, credited: CreditedArgs, firstOpen: { place: number; name: string } | null) =>
    `${countsWithPercent(share, `steps ${creditedHelp(credited)}`)}${
      firstOpen
        ? `; first not ${creditedHelp(credited)}: ${inDigits(firstOpen.place)}, ${firstOpen.name}`
        : ""
    }`,
  stepsOpen: (marked: number, all: number) => `not finished, ${counts(marked, all)} steps marked`,
  /** @param rate in its unit, "per minute" or "per hour"; null where the count itself is the figure */
  count: (args: {
    count: number;
    counted: string | undefined;
    observedSeconds: number | undefined;
    rate: { value: number; unit: string } | null;
  }) => {
    const { count, counted, observedSeconds, rate } = args;
    const total = `${counted ? `${inDigits(count)} ${counted}` : figure(count, "count")}${
      observedSeconds === undefined ? "" : ` in ${lengthOfTime(observedSeconds)}`
    }`;
    return rate ? `${figure(rate.value, rate.unit)} (${total})` : total;
  },
  intervals: (share: ShareArgs, intervalSeconds: number, missed: number) =>
    `${countsWithPercent(share, `intervals of ${lengthOfTime(intervalSeconds)}`)}${orNone(missed, "not observed")}`,
  /** @param value seconds, of `share` percent; null where there is none, as of a mean without a bout */
  duration: (args: {
    value: number | null;
    report: "total" | "mean" | "longest" | "share";
    bouts: number;
    observedSeconds: number | undefined;
  }) => {
    const { value, report, bouts, observedSeconds } = args;
    const seen = `${bouts === 0 ? "no bout" : `${inDigits(bouts)} ${plural(bouts, "bout")}`}${
      observedSeconds === undefined ? "" : ` in ${lengthOfTime(observedSeconds)} observed`
    }`;
    if (value === null) return seen;
    return report === "share"
      ? `${percent(value)} of the time (${seen})`
      : `${lengthOfTime(value)} ${spans[report]} (${seen})`;
  },
  /** Responses within a time; `noResponse` of them did not come. */
  latencyWithin: (share: ShareArgs, withinSeconds: number, noResponse: number) =>
    `${countsWithPercent(share, `within ${lengthOfTime(withinSeconds)}`)}${orNone(noResponse, "without a response")}`,
  /** @param value seconds; null where no response came */
  latency: (value: number | null, report: "median" | "mean", signals: number, noResponse: number) =>
    `${value === null ? `no ${report}` : `${lengthOfTime(value)} ${report}`} over ${inDigits(signals)} ${plural(signals, "signal")}${orNone(noResponse, "without a response")}`,
  fluency: (args: {
    perMinute: number;
    accuracy: number;
    counted: string;
    attempted: number;
    seconds: number;
    errors: number;
  }) =>
    `${number(args.perMinute)} ${args.counted} correct a minute, ${percent(args.accuracy)} accurate (${inDigits(args.attempted)} ${args.counted} in ${lengthOfTime(args.seconds)}, ${inDigits(args.errors)} ${plural(args.errors, "error")})`,
  outcome: (label: string, credit: number) => `${label}: worth ${percent(credit)}`,
  /** @param note empty where it is left out */
  otherOutcome: (note: string) => `another outcome, without credit${note ? `: ${note}` : ""}`,
  rubric: (share: ShareArgs, rater: string | undefined) =>
    `${countsWithPercent(share, "points")}${rater ? `, rated by ${rater}` : ""}`,
  runningTotal: (amount: number, unit: string) => `${number(amount)} ${unit}`,
  /** What has come together in the period of that day: "November so far 270 of 300". */
  soFar: (on: string, period: "week" | "month" | undefined, total: number, target: number) =>
    `${period === "month" ? `${fullMonth(on)} so far` : period === "week" ? "that week so far" : "so far"} ${counts(total, target)}`,
  support: (level: string) => `support: ${level}`,
  interrupted: () => "interrupted",
  notMeasured: (reason: "refused" | "interrupted") => `not measured, ${reason}`,
};

/** The entry lines of one language. A language that lacks one, or has one too many, does not compile. */
export type EntryWords = typeof entriesEn;
