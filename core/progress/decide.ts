import type { Criterion } from "../criteria/criterion.ts";
import { type ProgressWords, progressEn } from "../words/en/progress.ts";
import { standingEn, type StandingWords } from "../words/en/standing.ts";
import { type Advice, adviceOf } from "./advice.ts";
import type { DecisionFacts } from "./decision-facts.ts";
import { type Pace, paceOf } from "./pace.ts";
import { type Standing, type StandingAsk, standingFrom } from "./standing.ts";
import { type Trend, trendOf } from "./trend.ts";

export interface Decided {
  standing: Standing;
  trend: Trend;
  pace: Pace;
  advice: Advice;
  /** Trend and pace as they are read together. */
  rate: string;
  /** All of it as the page says it, in its order. */
  sentences: string[];
}

export interface DecideAsk extends StandingAsk {
  /** The day on which the phase of today began; null without one. */
  since?: string | null;
  /** Amounts that add up: no trend and no pace is told of them. */
  isTotal?: boolean;
  /** School weeks from today to the due date; null without one. */
  weeks: number | null;
  taughtOn: string | null;
}

/** The part of it that a goal's file carries beside the points. */
export type SeriesAsk = Pick<DecideAsk, "today" | "weeks" | "taughtOn" | "isStale" | "since">;

/** The areas of a language that say it. */
export interface DecideWords {
  standing: StandingWords;
  progress: ProgressWords;
}

/** A phase begun since the last point leaves nothing to say of line and trend; before it is what the points said. */
function inPhaseOf(facts: DecisionFacts, { since = null, measuredOn }: DecideAsk): DecisionFacts {
  if (since === null || measuredOn === null || since <= measuredOn) return facts;
  return {
    ...facts,
    ...{ nInPhase: 0, phaseDays: 0, slope: null, recentLevel: null, side: null, lastFourFrom: null },
    before: facts.isInstruction ? { changedOn: since, side: facts.side?.key ?? null } : null,
  };
}

/** Can the criterion be set further? A percentage ends at 100 and at 0, nothing else falls below 0. */
function mayRaise(criterion: Criterion | null, unit: string): boolean {
  if (criterion === null) return false;
  return criterion.direction === "decrease"
    ? criterion.value > 0
    : unit !== "percent" || criterion.value < 100;
}

/** Where a goal stands, its trend, its pace and what is advised: rules in `docs/methods.md`. */
export function decideFrom(
  of: DecisionFacts,
  ask: DecideAsk,
  words: DecideWords = { standing: standingEn, progress: progressEn },
): Decided {
  const { criterion, unit, taughtOn, isTotal = false } = ask;
  const facts = inPhaseOf(of, ask);
  const standing = standingFrom(facts, ask, words.standing);
  const found = trendOf(facts.slope, facts.nInPhase, unit, words.progress);
  const trend = isTotal ? { ...found, words: "" } : found;
  const isDone = standing.key === "met" || standing.key === "reached";
  const pace = paceOf(
    facts,
    {
      ...{ criterion: criterion?.value ?? null, direction: criterion?.direction ?? "increase", unit },
      weeks: isDone || isTotal ? null : ask.weeks,
    },
    words.progress,
  );
  const advice = adviceOf(
    facts,
    {
      ...{ standing: standing.key, pace: pace.key, taughtOn },
      mayRaise: mayRaise(criterion, unit),
    },
    words.progress,
  );
  // Where the pace gives the gain a week, the trend need not be told twice.
  const rate = [pace.tellsGain ? null : trend.words, pace.words].filter(Boolean).join(" ");
  return {
    ...{ standing, trend, pace, advice, rate },
    sentences: [`${standing.word}.`, standing.why, standing.stale, rate, advice.words].filter(
      (sentence): sentence is string => Boolean(sentence),
    ),
  };
}
