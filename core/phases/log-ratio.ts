import { mean, sampleVariance } from "simple-statistics";

export interface LogRatio {
  /** ln(mean after / mean before), corrected for small samples; raw, whichever way is better. */
  ratio: number;
  se: number;
  /** 100 · (exp(ratio) − 1). */
  percentChange: number;
}

/**
 * Log response ratio of two phases: ln(mB/mA) + sB²/(2 nB mB²) − sA²/(2 nA mA²), with its standard error.
 *
 * @param before,after raw values in the measure's unit
 * @returns null unless every value is at least 0, both means are above 0, and each phase has 2 points
 *
 * Source: J. E. Pustejovsky (2018), Journal of School Psychology 68:99–112, from memory.
 *
 * @example logRatio([2, 2], [4, 4])?.percentChange // 100
 */
export function logRatio(before: readonly number[], after: readonly number[]): LogRatio | null {
  const sides = [[...before], [...after]];
  if (sides.some((values) => values.length < 2 || values.some((value) => value < 0))) return null;
  const [a, b] = sides.map((values) => {
    const middle = mean(values);
    return { middle, spread: sampleVariance(values) / (values.length * middle ** 2) };
  });
  if (!a || !b || a.middle <= 0 || b.middle <= 0) return null;
  const ratio = Math.log(b.middle / a.middle) + b.spread / 2 - a.spread / 2;
  return { ratio, se: Math.sqrt(a.spread + b.spread), percentChange: 100 * Math.expm1(ratio) };
}
