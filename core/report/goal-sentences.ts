import type { GoalPoint } from "../progress/points.ts";
import type { Score } from "../measures/score-schema.ts";
import { figure } from "../words/amounts.ts";
import { reportEn, type ReportWords } from "../words/en/report.ts";

/** The latest figure of a goal, ready to be read beside its chart. */
export interface LatestFigure {
  value: string;
  /** "7 of 10, Tuesday, November 24"; of a named outcome, what it was and what it is worth. */
  about: string;
  /** "95% interval 40–89", or null where the opportunities are no sample */
  interval: string | null;
}

/**
 * @param points the goal's points in date order
 * @param interval95 of the last point's score, in percent; null where its opportunities are no sample
 * @param unit of the measure's value
 * @param said the last entry as its measure says it, where the value alone does not tell what happened
 */
export function latestFigure(
  points: readonly GoalPoint[],
  interval95: Score["interval95"],
  unit: string,
  said: string | null = null,
  words: ReportWords = reportEn,
): LatestFigure | null {
  const last = points.at(-1);
  if (!last) return null;
  const { numerator, denominator } = last.entry;
  const counted = numerator !== null && denominator !== null ? { numerator, denominator } : null;
  const [low, high] = interval95?.map(Math.round) ?? [];
  return {
    value: figure(last.value, unit),
    about: words.aboutLast(counted, said, last.date),
    interval: low === undefined || high === undefined ? null : words.interval(low, high),
  };
}
