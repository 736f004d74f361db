import { type ProgressWords, progressEn } from "../words/en/progress.ts";
import type { DecisionFacts } from "./decision-facts.ts";
import { fewestDays, type PaceKey } from "./pace.ts";
import type { StandingKey } from "./standing.ts";

export type AdviceKey = "confirm" | "ask-taught" | "change" | "raise" | "none";

export interface Advice {
  key: AdviceKey;
  words: string | null;
  /** Should somebody say whether the goal was taught as planned? */
  asksTaught: boolean;
}

const nothing: Advice = { key: "none", words: null, asksTaught: false };

/** Advice to change or to raise wants so many points over three weeks in the phase. */
const fewestPoints = 6;

/**
 * At most one piece of advice, from standing and pace alone, never against the criterion's state: a criterion that is reached is to be
 * confirmed; behind the line asks whether the goal was taught as planned, and where the pace is not enough advises a change; ahead of it by
 * the four-point rule, with pace enough, advises to consider a more ambitious goal, where the measure goes on above the criterion.
 *
 * @param taughtOn the latest day up to which the goal was taught as planned; one before the last four points says nothing
 * @param mayRaise is the criterion below the end of what the measure can be?
 *
 * Source: data-based individualisation training of the National Center on Intensive Intervention, from memory; the conditions were chosen
 * by simulation (docs/methods.md).
 */
export function adviceOf(
  { nInPhase, phaseDays, side, lastFourFrom }: DecisionFacts,
  {
    standing,
    pace,
    taughtOn,
    mayRaise,
  }: { standing: StandingKey; pace: PaceKey; taughtOn: string | null; mayRaise: boolean },
  words: ProgressWords = progressEn,
): Advice {
  if (standing === "reached") return { key: "confirm", words: words.confirm(), asksTaught: false };
  if (nInPhase < fewestPoints || phaseDays < fewestDays) return nothing;
  const seen = { points: nInPhase, weeks: Math.floor(phaseDays / 7) };
  if (standing === "ahead" && side?.by === "last four" && pace === "enough" && mayRaise)
    return { key: "raise", words: words.raise(seen), asksTaught: false };
  if (standing !== "behind") return nothing;
  const isTaught = taughtOn !== null && lastFourFrom !== null && taughtOn >= lastFourFrom;
  if (pace === "not-enough")
    return { key: "change", words: words.change(seen, isTaught ? taughtOn : null), asksTaught: !isTaught };
  return isTaught ? nothing : { key: "ask-taught", words: words.askTaught(seen), asksTaught: true };
}
