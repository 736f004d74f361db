import type { Criterion } from "../criteria/criterion.ts";
import type { Mastery } from "../criteria/mastery.ts";
import { figure, slopeSize } from "../words/amounts.ts";
import { dateWithYear, daysAgo, shortDate } from "../words/dates.ts";
import { listed } from "../words/lists.ts";
import { capitalise, countWord, plural } from "../words/numbers.ts";
import type { NoAim } from "./aim-line.ts";
import type { DecisionFacts } from "./decision-facts.ts";
import type { SideOfLine } from "./side-of-line.ts";

/** Every standing, in the order in which the first that fits is taken. */
export const standingKeys = [
  "met",
  "reached",
  "lost",
  "new-phase",
  "too-few",
  "past-due",
  "ahead",
  "behind",
  "on",
  "no-line",
] as const;
export type StandingKey = (typeof standingKeys)[number];

export const standingWords: Record<StandingKey, string> = {
  met: "Met",
  reached: "Criterion reached",
  lost: "No longer met",
  "new-phase": "New phase",
  "too-few": "Too few points",
  "past-due": "Due date passed",
  ahead: "Ahead of the line",
  behind: "Behind the line",
  on: "On the line",
  "no-line": "No aim line",
};

export interface Standing {
  key: StandingKey;
  /** "Ahead of the line" */
  word: string;
  /** Why, with its counts, in a sentence or two. */
  why: string;
  /** "Last measured 23 days ago." where the last point is old. */
  stale: string | null;
}

/** What the standing depends on beside the facts. */
export interface StandingAsk {
  criterion: Criterion | null;
  /** What is joined to the criterion: "95% accuracy". */
  joined?: readonly string[];
  /** The date on which the case manager confirmed the goal as met. */
  metOn: string | null;
  dueOn: string | null;
  /** The school's own date. */
  today: string;
  /** Of the measure's value. */
  unit: string;
  /** The date of the last point, and whether it is older than two school weeks (and so than twice any schedule). */
  measuredOn: string | null;
  isStale: boolean;
}

const isHeld = ({ inWindow, needed }: Mastery) => inWindow >= needed;

function keyOf(facts: DecisionFacts, { metOn, dueOn, today }: StandingAsk): StandingKey {
  const { mastery, nInPhase, side } = facts;
  const held = mastery === null || isHeld(mastery);
  if (metOn !== null && held) return "met";
  if (mastery?.met && held) return "reached";
  if (metOn !== null || mastery?.met) return "lost";
  if (facts.before !== null && nInPhase < 4) return "new-phase";
  if (nInPhase < 4) return "too-few";
  if (dueOn !== null && dueOn < today) return "past-due";
  return side?.key ?? "no-line";
}

/** "Rising 5½ points a week", "Falling 4 s a week"; level when the slope rounds to nothing. */
export function slopeWords(slopePerWeek: number | null, unit: string): string | null {
  if (slopePerWeek === null) return null;
  const size = slopeSize(Math.abs(slopePerWeek), unit);
  return size === null ? "Level" : `${slopePerWeek > 0 ? "Rising" : "Falling"} ${size} a week`;
}

const sideCounts = {
  "last four": "All of the last four points",
  "seven of eight": "Seven of the last eight points",
};

/** "All of the last four points are below the aim line." */
function sideSentence({ key, by }: SideOfLine, increase: boolean): string {
  if (by === null) return "The last points are on both sides of the aim line, or on it.";
  return `${sideCounts[by]} are ${(key === "ahead") === increase ? "above" : "below"} the aim line.`;
}

const noAimWords: Record<NoAim, string> = {
  "no criterion": "There is no aim line: the goal has no criterion.",
  "no due date": "There is no aim line: the goal has no due date.",
  "no baseline": "There is no aim line: a baseline is needed.",
  "one baseline point": "There is no aim line: a second baseline point is needed.",
  "baseline meets the criterion": "The baseline already meets the criterion. Set another criterion.",
  "due before the baseline": "There is no aim line: the due date is not after the baseline.",
};

const beforeWords = (before: NonNullable<DecisionFacts["before"]>) =>
  before.side === null ? "" : ` Before it: ${standingWords[before.side].toLowerCase()}.`;

function lineSentence(
  facts: DecisionFacts,
  key: StandingKey,
  { criterion, dueOn }: StandingAsk,
): string | null {
  const { nInPhase, side, before, noAim } = facts;
  const increase = criterion?.direction !== "decrease";
  const few = `${capitalise(countWord(nInPhase))} ${plural(nInPhase, "point")}`;
  if (key === "new-phase" && before)
    return `${nInPhase === 0 ? "No point" : few} since the new phase began on ${shortDate(before.changedOn)}; four are needed.${beforeWords(before)}`;
  if (key === "too-few")
    return nInPhase === 0
      ? "No point in this phase yet; four are needed."
      : `${few} in this phase; four are needed.`;
  if (key === "no-line") return noAim && noAimWords[noAim];
  if (key === "past-due")
    return [`The goal was due on ${dateWithYear(dueOn ?? "")}.`, side && sideSentence(side, increase)]
      .filter(Boolean)
      .join(" ");
  return side && sideSentence(side, increase);
}

/** What a criterion in several settings or with several people still asks for. */
function breadthSentence({ settings, people }: Mastery): string | null {
  const missing = [
    settings && settings.seen < settings.needed
      ? `in ${countWord(settings.seen)} of ${countWord(settings.needed)} settings`
      : null,
    people && people.seen < people.needed
      ? `with ${countWord(people.seen)} of ${countWord(people.needed)} people`
      : null,
  ].filter((part) => part !== null);
  return missing.length === 0 ? null : `So far ${missing.join(" and ")}.`;
}

/** "reached 80% and 95% accuracy", "stayed at or below 10%" */
function didWords({ direction, value }: Criterion, joined: readonly string[], unit: string): string {
  return `${direction === "increase" ? "reached" : "stayed at or below"} ${listed([figure(value, unit), ...joined])}`;
}

/** What the criterion still asks for: "Two of the last four sessions reached 80%; one more is needed." */
export function criterionSentence(
  { mastery, nInPhase }: Pick<DecisionFacts, "mastery" | "nInPhase">,
  { criterion, joined = [], unit }: Pick<StandingAsk, "criterion" | "joined" | "unit">,
): string | null {
  if (!criterion || !mastery) return null;
  const { k, n } = criterion.window;
  const { inWindow, of } = mastery;
  const occasion = criterion.windowUnit;
  const did = didWords(criterion, joined, unit);
  if (!mastery.met && nInPhase === 0 && inWindow === 0) return null;
  const inARow = k === n && n > 1 ? " in a row" : "";
  if (mastery.met) {
    const held = isHeld(mastery);
    const last =
      n === 1
        ? `the last ${occasion} ${inWindow === 1 ? did : `did not`}`
        : `${countWord(inWindow)} of the last ${countWord(of)} ${plural(of, occasion)} ${did}`;
    return held
      ? `Criterion reached on ${shortDate(mastery.on ?? "")}: ${last}.`
      : `The criterion was reached on ${shortDate(mastery.on ?? "")} and is no longer met: ${last}.`;
  }
  const breadth = breadthSentence(mastery);
  const missing = k - inWindow;
  const needs =
    missing <= 0
      ? null
      : inWindow === 0
        ? `${countWord(k)}${inARow}${k < n ? ` of ${countWord(n)}` : ""} ${plural(k, "is", "are")} needed`
        : `${countWord(missing)} more ${plural(missing, "is", "are")} needed`;
  const seen =
    of < n
      ? `${capitalise(countWord(inWindow === 0 ? of : inWindow))} ${inWindow === 0 || inWindow === of ? plural(of, occasion) : `of ${countWord(of)} ${plural(of, occasion)}`} so far${inWindow === 0 ? `, none ${did}` : ` ${did}`}`
      : inWindow === 0
        ? n === 1
          ? `The last ${occasion} has not ${did}`
          : `No recent ${occasion} ${did}`
        : `${capitalise(countWord(inWindow))} of the last ${countWord(n)} ${occasion}s ${did}`;
  return [needs ? `${seen}; ${needs}.` : `${seen}.`, breadth].filter(Boolean).join(" ");
}

/**
 * Where a goal stands: the first that fits of met (confirmed and still held), criterion reached (not confirmed yet), no longer met (was met
 * or reached), new phase (fewer than four points since a phase line, with the standing before it), too few points, due date passed, ahead
 * of, behind and on the line (`sideOfLine`), and no aim line.
 *
 * Source: ours, with the four-point rule of the National Center on Intensive Intervention's training, from memory.
 */
export function standingFrom(facts: DecisionFacts, ask: StandingAsk): Standing {
  const key = keyOf(facts, ask);
  const sentences = [
    key === "met"
      ? `Confirmed on ${shortDate(ask.metOn ?? "")}.`
      : key === "reached" || key === "lost"
        ? null
        : lineSentence(facts, key, ask),
    criterionSentence(facts, ask),
  ];
  return {
    ...{ key, word: standingWords[key], why: sentences.filter(Boolean).join(" ") },
    stale: ask.isStale && ask.measuredOn ? `Last measured ${daysAgo(ask.measuredOn, ask.today)}.` : null,
  };
}
