import type { Criterion } from "../criteria/criterion.ts";
import type { Mastery } from "../criteria/mastery.ts";
import { type StandingWords, standingEn } from "../words/en/standing.ts";
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

function sideSentence({ key, by }: SideOfLine, increase: boolean, words: StandingWords): string {
  return by === null ? words.bothSides() : words.side(by, (key === "ahead") === increase);
}

function lineSentence(
  facts: DecisionFacts,
  key: StandingKey,
  { criterion, dueOn }: StandingAsk,
  words: StandingWords,
): string | null {
  const { nInPhase, side, before, noAim } = facts;
  const sideOf = side && sideSentence(side, criterion?.direction !== "decrease", words);
  if (key === "new-phase" && before) return words.newPhase(nInPhase, before.changedOn, before.side);
  if (key === "too-few") return words.tooFew(nInPhase);
  if (key === "no-line") return noAim && words.noLine[noAim];
  if (key === "past-due") return [words.wasDue(dueOn ?? ""), sideOf].filter(Boolean).join(" ");
  return sideOf;
}

/** What the criterion still asks for: "Two of the last four sessions reached 80%; one more is needed." */
export function criterionSentence(
  { mastery, nInPhase }: Pick<DecisionFacts, "mastery" | "nInPhase">,
  { criterion, joined = [], unit }: Pick<StandingAsk, "criterion" | "joined" | "unit">,
  words: StandingWords = standingEn,
): string | null {
  if (!criterion || !mastery) return null;
  const { value, direction, window, windowUnit } = criterion;
  const { met, on, inWindow, of, settings, people } = mastery;
  if (!met && nInPhase === 0 && inWindow === 0) return null;
  const state = { value, direction, unit, joined, occasion: windowUnit, ...window, inWindow, of };
  if (!met) return words.criterionOpen(state, settings, people);
  return isHeld(mastery) ? words.criterionReached(on ?? "", state) : words.criterionLost(on ?? "", state);
}

/**
 * Where a goal stands: the first that fits of met (confirmed and still held), criterion reached (not confirmed yet), no longer met (was met
 * or reached), new phase (fewer than four points since a phase line, with the standing before it), too few points, due date passed, ahead
 * of, behind and on the line (`sideOfLine`), and no aim line.
 *
 * Source: ours, with the four-point rule of the National Center on Intensive Intervention's training, from memory.
 */
export function standingFrom(
  facts: DecisionFacts,
  ask: StandingAsk,
  words: StandingWords = standingEn,
): Standing {
  const key = keyOf(facts, ask);
  const sentences = [
    key === "met"
      ? words.confirmed(ask.metOn ?? "")
      : key === "reached" || key === "lost"
        ? null
        : lineSentence(facts, key, ask, words),
    criterionSentence(facts, ask, words),
  ];
  return {
    ...{ key, word: words.names[key], why: sentences.filter(Boolean).join(" ") },
    stale: ask.isStale && ask.measuredOn ? words.stale(ask.measuredOn, ask.today) : null,
  };
}
