import { mean, sum } from "simple-statistics";

/**
 * Lag-1 autocorrelation: how much each value is like the one before it, Σ (vᵢ − m)(vᵢ₊₁ − m) / Σ (vᵢ − m)².
 * Where it is well above 0, intervals and p-values of the trend are narrower than they should be.
 *
 * @param values in date order, any unit
 * @returns −1 … 1; null with fewer than 3 values, or where all are equal
 *
 * Source: G. E. P. Box & G. M. Jenkins (1970), Time Series Analysis, the estimate that statistical packages give, from memory.
 *
 * @example autocorrelation([1, 2, 3, 4]) // 0.25
 */
export function autocorrelation(values: readonly number[]): number | null {
  if (values.length < 3 || new Set(values).size < 2) return null;
  const middle = mean([...values]);
  const off = values.map((value) => value - middle);
  return sum(off.slice(1).map((value, at) => value * (off[at] ?? 0))) / sum(off.map((value) => value ** 2));
}
