import type { Direction } from "../measures/direction-schema.ts";
import { type ProgressWords, progressEn } from "../words/en/progress.ts";
import { fewestForTrend, hasDirection, type Slope } from "./trend.ts";

export type PaceKey = "enough" | "not-enough" | "unclear" | "too-early" | "none";

export interface Pace {
  key: PaceKey;
  /** What is needed from here to the due date, in the unit a week; raw, so negative where the criterion lies lower. */
  neededPerWeek: number | null;
  words: string | null;
  /** Do the words tell the gain a week too, so that the trend need not be told beside them? */
  tellsGain: boolean;
}

export interface PaceFacts {
  slope: Slope | null;
  nInPhase: number;
  /** From the first to the last point of the phase. */
  phaseDays: number;
  /** The median of the last three points; null without a point. */
  recentLevel: number | null;
}

/** Three weeks in the phase: sooner neither pace nor advice is told. */
export const fewestDays = 21;

/**
 * Whether the gain a week so far is enough to reach the criterion by the due date. Needed is (criterion − median of the last three points)
 * / weeks to the due date. Enough where the whole 95% interval of the slope is at or above it, not enough where all of it is below, else
 * not clear yet; told from five points over three weeks.
 *
 * @param weeks school weeks from today to the due date; 0 or less where it is past
 *
 * Source: the rate needed is arithmetic; whether progress is sufficient is what most districts' progress reports ask (common practice;
 * 34 CFR 300.320(a)(3) asks for periodic reports).
 */
export function paceOf(
  { slope, nInPhase, phaseDays, recentLevel }: PaceFacts,
  {
    criterion,
    direction,
    weeks,
    unit,
  }: { criterion: number | null; direction: Direction; weeks: number | null; unit: string },
  words: ProgressWords = progressEn,
): Pace {
  if (criterion === null || weeks === null || weeks <= 0 || recentLevel === null)
    return { key: "none", neededPerWeek: null, words: null, tellsGain: false };
  const neededPerWeek = (criterion - recentLevel) / weeks;
  const sign = direction === "increase" ? 1 : -1;
  const needed = sign * neededPerWeek;
  if (nInPhase < fewestForTrend || phaseDays < fewestDays || slope === null)
    return { key: "too-early", neededPerWeek, words: words.paceTooEarly(needed, unit), tellsGain: false };
  const ends = [slope.low ?? slope.perWeek, slope.high ?? slope.perWeek].map((end) => sign * end);
  const [low, high] = [Math.min(...ends), Math.max(...ends)];
  const key = low >= needed ? "enough" : high < needed ? "not-enough" : "unclear";
  const tellsGain = hasDirection(slope);
  return {
    ...{ key, neededPerWeek, tellsGain },
    words: tellsGain
      ? words.pace({ gain: sign * slope.perWeek, low, high, needed, direction, unit, verdict: key })
      : words.paceFromHere(needed, unit, key),
  };
}
