import { type ProgressWords, progressEn } from "../words/en/progress.ts";

export type TrendKey = "rising" | "falling" | "level" | "unclear" | "too-few";

/** The slope of the current phase, in the measure's unit a week, with its 95% interval. */
export interface Slope {
  perWeek: number;
  low: number | null;
  high: number | null;
}

export interface Trend {
  key: TrendKey;
  perWeek: number | null;
  low: number | null;
  high: number | null;
  words: string;
}

/** From so many points on a trend is told, and its line drawn. */
export const fewestForTrend = 5;
/** A slope within so many units of the measure's rounding is level: one point, one word, one second a week. */
const levelWithin = 1;

/**
 * What the slope of the current phase says: rising or falling only where its 95% interval leaves out 0, level where the whole interval is
 * less than one unit a week either way, else that there is no clear trend. Under five points nothing is told.
 *
 * @param slope Theil–Sen, in the unit a week; null with fewer than two different dates. Its interval is null where all values are equal
 *
 * Source: ours; the interval is that of Sen (1968), as in `theilSen`.
 */
export function trendOf(
  slope: Slope | null,
  nInPhase: number,
  unit: string,
  words: ProgressWords = progressEn,
): Trend {
  if (nInPhase < fewestForTrend || slope === null)
    return {
      ...{ key: "too-few", perWeek: slope?.perWeek ?? null, low: null, high: null },
      words: words.tooFewForTrend(nInPhase),
    };
  const { perWeek, low, high } = slope;
  const key = keyOf(slope);
  return { key, perWeek, low, high, words: trendWords(key, { ...slope, unit }, words) };
}

/** Does the whole interval of a slope lie on one side of 0? */
export const hasDirection = ({ low, high }: Slope): boolean =>
  low !== null && high !== null && (low > 0 || high < 0);

function keyOf({ perWeek, low, high }: Slope): Exclude<TrendKey, "too-few"> {
  // Without an interval all values are equal, or all pairs but ties.
  if (low === null || high === null) return perWeek === 0 ? "level" : "unclear";
  if (low > 0) return "rising";
  if (high < 0) return "falling";
  return low >= -levelWithin && high <= levelWithin ? "level" : "unclear";
}

function trendWords(
  key: Exclude<TrendKey, "too-few">,
  slope: Slope & { unit: string },
  words: ProgressWords,
): string {
  if (key === "unclear") return words.noTrend(slope);
  return key === "level" ? words.level(slope) : words.direction(key, slope);
}
