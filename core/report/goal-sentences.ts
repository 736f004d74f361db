import type { GoalPoint } from "../progress/points.ts";
import type { Score } from "../measures/score-schema.ts";
import { longDate } from "../words/dates.ts";
import { figure } from "../words/amounts.ts";
import { counts } from "../words/numbers.ts";

/** The latest figure of a goal, ready to be read beside its chart. */
export interface LatestFigure {
  value: string;
  /** "7 of 10, Tuesday 24 November" */
  about: string;
  /** "95 % interval 40–89", or null where the opportunities are no sample */
  interval: string | null;
}

/**
 * @param points the goal's points in date order
 * @param interval95 of the last point's score, in percent; null where its opportunities are no sample
 * @param unit of the measure's value
 */
export function latestFigure(
  points: readonly GoalPoint[],
  interval95: Score["interval95"],
  unit: string,
): LatestFigure | null {
  const last = points.at(-1);
  if (!last) return null;
  const { numerator, denominator } = last.entry;
  const counted = numerator !== null && denominator !== null;
  const [low, high] = interval95?.map(Math.round) ?? [];
  return {
    value: figure(last.value, unit),
    about: `${counted ? `${counts(numerator, denominator)}, ` : ""}${longDate(last.date)}`,
    interval: interval95 ? `95\u00a0% interval ${low}–${high}` : null,
  };
}
