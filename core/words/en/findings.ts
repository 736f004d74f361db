import { weekdayName } from "../../dates/week.ts";
import { timeSpan } from "../dates.ts";
import { fixedDecimals } from "../fixed-decimals.ts";
import { listed } from "../lists.ts";
import { capitalise, inDigits, percent, plural } from "../numbers.ts";

/** What is counted: incidents, or episodes where several incidents are one. */
export type CountedArgs = "incidents" | "episodes";

/** A period of the day. */
export interface SlotArgs {
  name: string;
  startsAt: string;
  endsAt: string;
}

/** Two labels that occur together: in `both` of the `of` that have the first, and in `others` of `othersOf` that have not. */
export interface PairArgs {
  kind: "antecedent-behavior" | "setting-behavior" | "behavior-consequence" | "antecedent-consequence";
  a: string;
  b: string;
  both: number;
  of: number;
}

/** So many incidents on so many observed school days. */
export interface RateArgs {
  incidents: number;
  days: number;
  perDay: number;
}

/** What was found among the incidents of one student. */
export type FindingArgs =
  | (PairArgs & { counted: CountedArgs; others: number; othersOf: number })
  | {
      kind: "time";
      counted: CountedArgs;
      n: number;
      of: number;
      /** Null where the period of every day is meant. */
      weekday: number | null;
      slot: SlotArgs;
      /** Its minutes, of how many that the day has. */
      minutes: number;
      dayMinutes: number;
    }
  | { kind: "weekday"; weekday: number; days: number; of: number; otherDays: number; othersOf: number }
  | { kind: "change"; plan: string; before: RateArgs; after: RateArgs };

/** What else is told of the same incidents: their consequences, and the time of the week at which most of them began. */
export interface FindingMore {
  followed: { labels: readonly { label: string; n: number }[]; of: number } | null;
  when: { n: number; of: number; weekdays: readonly number[]; slot: SlotArgs } | null;
}

/** How many times as often, from plain fractions to multiples. */
const ratioNames = [
  [1 / 4, "one-quarter"],
  [1 / 3, "one-third"],
  [1 / 2, "half"],
  [2 / 3, "two-thirds"],
  [3 / 4, "three-quarters"],
  [2, "twice"],
  [3, "three times"],
  [4, "four times"],
  [5, "five times"],
] as const;
/** A ratio is called by a plain name within a tenth of it; from some size on by its number. */
const near = 0.1;
const mostNamed = 5 * (1 + near);

/** The plain name of a ratio in a list of them; null where it has none. */
export function ratioName<Name>(ratio: number, names: readonly (readonly [number, Name])[]): Name | null {
  if (Math.abs(ratio - 1) <= near) return null;
  return names.find(([value]) => Math.abs(ratio / value - 1) <= near)?.[1] ?? null;
}

/** "about one-third as often", "about twice as often", "15% more often", "as often" */
function times(ratio: number): string {
  if (ratio > mostNamed) return `about ${inDigits(Math.round(ratio))} times as often`;
  const name = ratioName(ratio, ratioNames);
  if (name) return `about ${name} as often`;
  const change = Math.round(100 * Math.abs(ratio - 1));
  return change === 0 ? "as often" : `${percent(change)} ${ratio < 1 ? "less" : "more"} often`;
}

/** "p < .001", "p = .034": as reports of statistics write it. */
function pValue(p: number): string {
  return p < 0.001 ? "p < .001" : `p = ${p.toFixed(p < 0.1 ? 3 : 2).replace(/^0/, "")}`;
}

/** "3 of 4", or "all 4" */
const some = (n: number, of: number) =>
  n === of ? `all ${inDigits(of)}` : `${inDigits(n)} of ${inDigits(of)}`;
const during = ({ name, startsAt, endsAt }: SlotArgs) => `during ${name} (${timeSpan(startsAt, endsAt)})`;
const countedNames: Record<CountedArgs, string> = { incidents: "incident", episodes: "episode" };
const counted = (what: CountedArgs, n: number) => plural(n, countedNames[what]);

function pair({ kind, a, b, both, of }: PairArgs, what: CountedArgs): string {
  const many = `${some(both, of)} ${counted(what, of)}`;
  switch (kind) {
    case "antecedent-behavior":
      return `${many} with ${b} had the antecedent “${a}”`;
    case "setting-behavior":
      return `${many} with ${b} were in the setting “${a}”`;
    case "behavior-consequence":
      return `${many} with ${a} had the consequence “${b}”`;
    case "antecedent-consequence":
      return `${many} with the antecedent “${a}” had the consequence “${b}”`;
  }
}

const perDay = ({ incidents, days, perDay: rate }: RateArgs) =>
  `${inDigits(incidents)} in ${inDigits(days)} observed ${plural(days, "day")}, ${fixedDecimals(rate, 2)} a day`;

function found(args: FindingArgs): string {
  switch (args.kind) {
    case "time": {
      const { n, of, weekday, slot, minutes, dayMinutes } = args;
      const day = weekday === null ? "" : `on ${weekdayName(weekday)} `;
      return `${some(n, of)} ${counted(args.counted, of)} with a known time began ${day}${during(slot)}, which is ${inDigits(minutes)} of ${inDigits(dayMinutes)} minutes a day`;
    }
    case "weekday": {
      const { weekday, days, of, otherDays, othersOf } = args;
      return `${inDigits(days)} of ${inDigits(of)} observed ${plural(of, weekdayName(weekday))} had an incident; of the other days, ${inDigits(otherDays)} of ${inDigits(othersOf)}`;
    }
    case "change":
      return `since ${args.plan} there were ${perDay(args.after)}; before, ${perDay(args.before)}`;
    default:
      return `${pair(args, args.counted)}; of the others, ${inDigits(args.others)} of ${inDigits(args.othersOf)}`;
  }
}

function followedWords(followed: FindingMore["followed"]): string {
  const [first, ...more] = followed?.labels ?? [];
  if (!followed || !first) return "";
  const head = `“${first.label}” in ${first.n === followed.of ? `all ${inDigits(followed.of)}` : `${inDigits(first.n)} of the ${inDigits(followed.of)}`}`;
  return `; consequence: ${[head, ...more.map(({ label, n }) => `“${label}” in ${inDigits(n)}`)].join(", ")}`;
}

function whenWords(when: FindingMore["when"]): string {
  if (!when) return "";
  const { n, of, weekdays, slot } = when;
  const days = weekdays.length >= 5 ? "" : `on ${listed(weekdays.map(weekdayName), "or")} `;
  return `; ${n === of ? "all of them" : `${inDigits(n)} of the ${inDigits(of)}`} ${days}${during(slot)}`;
}

/** Findings and rates among recorded incidents, without their full stop where they are one sentence; English. */
export const findingsEn = {
  finding: (args: FindingArgs, more: FindingMore) =>
    `${found(args)}${followedWords(more.followed)}${whenWords(more.when)}`,
  tooFew: () => "Too few episodes to tell.",
  nothing: () => "No two things went together clearly.",
  /** A pair among the incidents of several students. */
  schoolPair: (args: PairArgs, students: number) =>
    `${pair(args, "incidents")}; of ${inDigits(students)} ${plural(students, "student")}`,
  /** @param share how many times the share of the school week */
  schoolTime: (args: {
    n: number;
    of: number;
    weekday: number;
    slot: SlotArgs;
    share: number;
    students: number;
  }) =>
    `${some(args.n, args.of)} ${counted("incidents", args.of)} with a known time began on ${weekdayName(args.weekday)} ${during(args.slot)}, ${fixedDecimals(args.share, 1)} times its share of the school week; of ${inDigits(args.students)} ${plural(args.students, "student")}`,
  /** "0.57 a day (95% interval 0.38 to 0.81, widened because bad days cluster), 2.8 in five days" */
  rate: (args: { perDay: number; low: number; high: number; widened: boolean; perWeek: number }) =>
    `${fixedDecimals(args.perDay, 2)} a day (95% interval ${fixedDecimals(args.low, 2)} to ${fixedDecimals(args.high, 2)}${args.widened ? ", widened because bad days cluster" : ""}), ${fixedDecimals(args.perWeek, 1)} in five days`,
  notCompared: () => "One of the two spans has no observed school day, so they cannot be compared.",
  /** @param ratio null where there was nothing before; @param p null where it was not tested */
  change: (before: RateArgs, after: RateArgs, ratio: number | null, p: number | null) => {
    const how =
      ratio !== null
        ? times(ratio)
        : before.incidents === 0 && after.incidents === 0
          ? "none in either"
          : "none before";
    const tested =
      p === null
        ? "fewer than four school weeks on a side: not tested"
        : `${pValue(p)}${p > 0.05 ? ", may be chance" : ""}`;
    return `Before: ${perDay(before)}. Since: ${inDigits(after.incidents)} in ${inDigits(after.days)}, ${fixedDecimals(after.perDay, 2)} a day. ${capitalise(how)} (${tested}).`;
  },
  times,
  pValue,
};

/** Findings and rates in one language. */
export type FindingWords = typeof findingsEn;
