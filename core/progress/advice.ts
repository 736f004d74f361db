import { capitalise, countWord, plural } from "../words/numbers.ts";
import { shortDate } from "../words/dates.ts";
import { dayNumber } from "../dates/day-number.ts";
import type { FullFigures } from "./full-figures.ts";
import type { StandingKey } from "./standing.ts";

/** What the rules advise. */
export interface Advice {
  kind: "change" | "raise" | "wait";
  words: string;
  /** The advice asks whether the goal was taught as planned before it says to change anything. */
  asksTaught: boolean;
}

/** Advice to change wants so many points over so many days in the phase. */
const fewestPoints = 6;
const fewestDays = 21;

/**
 * What follows from where a goal stands, where the phase is long enough for it: behind the line asks first whether it was taught as
 * planned and then advises to change something; ahead of it advises to consider a more ambitious goal.
 *
 * @param key the standing
 * @param taughtOn the latest day on which somebody said that it was taught as planned; one before the last four points says nothing
 * @param lastFourFrom the date of the first of the last four points
 * @returns null where the rules advise nothing: keep going
 *
 * Source: data-based individualisation training of the National Center on Intensive Intervention, from memory.
 */
export function adviceOf(
  { nInPhase, phases, currentPhase }: FullFigures,
  { key, taughtOn, lastFourFrom }: { key: StandingKey; taughtOn: string | null; lastFourFrom: string | null },
): Advice | null {
  const phase = phases.find((one) => one.phase === currentPhase);
  if (!phase || (key !== "ahead" && key !== "behind")) return null;
  const days = dayNumber(phase.to) - dayNumber(phase.from);
  const weeks = Math.floor(days / 7);
  const seen = `${capitalise(countWord(nInPhase))} ${plural(nInPhase, "point")} over ${weeks === 0 ? "less than a week" : `${countWord(weeks)} ${plural(weeks, "week")}`} in this phase`;
  if (nInPhase < fewestPoints || days < fewestDays)
    return {
      kind: "wait",
      words: `${seen}: too early to advise a change, six points over three weeks are wanted.`,
      asksTaught: false,
    };
  if (key === "ahead")
    return { kind: "raise", words: `${seen}: consider a more ambitious goal.`, asksTaught: false };
  const isTaught = taughtOn !== null && lastFourFrom !== null && taughtOn >= lastFourFrom;
  return {
    kind: "change",
    words: isTaught
      ? `${seen}, and it was said to be taught as planned up to ${shortDate(taughtOn)}: time to change something.`
      : `${seen}. Was it taught as planned? If so, it is time to change something.`,
    asksTaught: !isTaught,
  };
}
