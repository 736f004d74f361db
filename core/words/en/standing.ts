import { figure } from "../amounts.ts";
import { dateWithYear, daysAgo, shortDate } from "../dates.ts";
import { listed } from "../lists.ts";
import { capitalise, countWord, plural } from "../numbers.ts";
import { countOf } from "./count-of.ts";
import { standingNamesEn } from "./standing-names.ts";

/** How far a criterion is met now: `inWindow` of the last `of` occasions meet it, where `k` of `n` have to. */
export interface CriterionStateArgs {
  value: number;
  direction: "increase" | "decrease";
  unit: string;
  /** What is joined to it, in phrases: "95% accuracy". */
  joined: readonly string[];
  occasion: "session" | "day" | "week" | "month";
  k: number;
  n: number;
  inWindow: number;
  of: number;
}

/** Settings or people that a criterion names a number of. */
export interface BreadthArgs {
  seen: number;
  needed: number;
}

const lastPoints = {
  "last four": "All of the last four points",
  "seven of eight": "Seven of the last eight points",
};

const points = (n: number) => capitalise(countOf(n, "point"));

/** "reached 80% and 95% accuracy", "stayed at or below 10%" */
const didMeet = ({ direction, value, unit, joined }: CriterionStateArgs) =>
  `${direction === "increase" ? "reached" : "stayed at or below"} ${listed([figure(value, unit), ...joined])}`;

/** "two of the last four sessions reached 80%" */
function lastOccasions(state: CriterionStateArgs): string {
  const { occasion, n, inWindow, of } = state;
  if (n === 1 || of === 1) return `the last ${occasion} ${inWindow === 1 ? didMeet(state) : "did not"}`;
  return `${countWord(inWindow)} of the last ${countWord(of)} ${plural(of, occasion)} ${didMeet(state)}`;
}

function seenSoFar(state: CriterionStateArgs): string {
  const { occasion, n, inWindow, of } = state;
  const did = didMeet(state);
  if (of === 0) return `No ${occasion} counts toward the criterion yet`;
  if (of < n) {
    const all = `${countOf(of, occasion)} so far`;
    if (inWindow === 0) return `${capitalise(all)}, none ${did}`;
    return `${capitalise(inWindow === of ? all : `${countWord(inWindow)} of ${all}`)} ${did}`;
  }
  if (inWindow > 0) return capitalise(lastOccasions(state));
  return n === 1 ? `The last ${occasion} has not ${did}` : `No recent ${occasion} ${did}`;
}

function needed({ k, n, inWindow }: CriterionStateArgs): string {
  const missing = k - inWindow;
  if (missing <= 0) return "";
  if (inWindow > 0) return `; ${countWord(missing)} more ${plural(missing, "is", "are")} needed`;
  const inARow = k === n && n > 1 ? " in a row" : "";
  return `; ${countWord(k)}${inARow}${k < n ? ` of ${countWord(n)}` : ""} ${plural(k, "is", "are")} needed`;
}

function breadth(settings: BreadthArgs | undefined, people: BreadthArgs | undefined): string {
  const missing = [
    settings && settings.seen < settings.needed
      ? `in ${countWord(settings.seen)} of ${countWord(settings.needed)} settings`
      : "",
    people && people.seen < people.needed
      ? `with ${countWord(people.seen)} of ${countWord(people.needed)} people`
      : "",
  ].filter(Boolean);
  return missing.length === 0 ? "" : ` So far ${missing.join(" and ")}.`;
}

/** Where a goal stands, in whole sentences; English. */
export const standingEn = {
  names: standingNamesEn,
  confirmed: (on: string) => `Confirmed on ${shortDate(on)}.`,
  /** @param before the standing before the phase line; null where it had none */
  newPhase: (n: number, changedOn: string, before: keyof typeof standingNamesEn | null) =>
    `${points(n)} since the new phase began on ${shortDate(changedOn)}; four are needed.${
      before === null ? "" : ` Before it: ${standingNamesEn[before].toLowerCase()}.`
    }`,
  tooFew: (n: number) =>
    n === 0
      ? "No points in this phase yet; four are needed."
      : `${points(n)} in this phase; four are needed.`,
  noLine: {
    "no criterion": "There is no aim line: the goal has no criterion.",
    "no due date": "There is no aim line: the goal has no due date.",
    "no baseline": "There is no aim line: a baseline is needed.",
    "one baseline point": "There is no aim line: a second baseline point is needed.",
    "baseline meets the criterion": "The baseline already meets the criterion. Set another criterion.",
    "due before the baseline": "There is no aim line: the due date is not after the baseline.",
  },
  wasDue: (on: string) => `The goal was due on ${dateWithYear(on)}.`,
  side: (by: keyof typeof lastPoints, isAbove: boolean) =>
    `${lastPoints[by]} are ${isAbove ? "above" : "below"} the aim line.`,
  bothSides: () => "The last points are on both sides of the aim line, or on it.",
  criterionReached: (on: string, state: CriterionStateArgs) =>
    `Criterion reached on ${shortDate(on)}: ${lastOccasions(state)}.`,
  criterionLost: (on: string, state: CriterionStateArgs) =>
    `The criterion was reached on ${shortDate(on)} and is no longer met: ${lastOccasions(state)}.`,
  /** "Two of the last four sessions reached 80%; one more is needed." */
  criterionOpen: (
    state: CriterionStateArgs,
    settings: BreadthArgs | undefined,
    people: BreadthArgs | undefined,
  ) => `${seenSoFar(state)}${needed(state)}.${breadth(settings, people)}`,
  stale: (measuredOn: string, today: string) => `Last measured ${daysAgo(measuredOn, today)}.`,
};

/** The standing in one language. */
export type StandingWords = typeof standingEn;
