import { slopeNumber, slopeSize, slopeUnit } from "../words/amounts.ts";
import { countWord } from "../words/numbers.ts";

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
export function trendOf(slope: Slope | null, nInPhase: number, unit: string): Trend {
  if (nInPhase < fewestForTrend || slope === null)
    return {
      ...{ key: "too-few", perWeek: slope?.perWeek ?? null, low: null, high: null },
      words: tooFewWords(nInPhase),
    };
  const { perWeek, low, high } = slope;
  const key = keyOf(slope);
  return { key, perWeek, low, high, words: words(key, slope, unit) };
}

/** Does the whole interval of a slope lie on one side of 0? */
export const hasDirection = ({ low, high }: Slope): boolean =>
  low !== null && high !== null && (low > 0 || high < 0);

function keyOf({ perWeek, low, high }: Slope): TrendKey {
  // Without an interval all values are equal, or all pairs but ties.
  if (low === null || high === null) return perWeek === 0 ? "level" : "unclear";
  if (low > 0) return "rising";
  if (high < 0) return "falling";
  return low >= -levelWithin && high <= levelWithin ? "level" : "unclear";
}

const tooFewWords = (n: number) =>
  n === 0
    ? "No points in this phase yet."
    : `Too few points for a trend: ${countWord(n)} so far, five are needed.`;

function words(key: TrendKey, { perWeek, low, high }: Slope, unit: string): string {
  const [from, to] = [slopeNumber(low ?? 0, unit), slopeNumber(high ?? 0, unit)];
  const interval =
    low === null || high === null || (from === "0" && to === "0")
      ? ""
      : ` (95% interval ${from} to ${to}${key === "unclear" ? ` ${slopeUnit(unit)}`.trimEnd() + " a week" : ""})`;
  if (key === "unclear") return `No clear trend${interval}.`;
  const size = slopeSize(Math.abs(perWeek), unit);
  if (key === "level" || size === null)
    return `Level${key === "level" ? "" : `, ${key} slightly`}${interval}.`;
  return `${key === "rising" ? "Rising" : "Falling"} about ${size} a week${interval}.`;
}
