import { type Agreement, none, smallerOverLarger } from "./ratio.ts";

/**
 * Agreement on how long something lasted, one unit for each occurrence.
 *
 * @param pairs seconds ≥ 0, first and second observer; an occurrence that one of them missed stands as 0
 * @returns percentages: total duration = shorter / longer of the sums; mean duration-per-occurrence = the mean of
 *   shorter / longer over the occurrences. 0 against 0 agrees.
 *
 * Source: Cooper, Heron & Heward, Applied Behavior Analysis, interobserver agreement for timing.
 *
 * @example durationAgreement([[60, 60], [30, 20]]) // total 88.9, mean 83.3
 */
export function durationAgreement(pairs: readonly (readonly [number, number])[]): {
  totalDuration: Agreement;
  meanDurationPerOccurrence: Agreement;
} {
  if (pairs.length === 0)
    return { totalDuration: none("no units"), meanDurationPerOccurrence: none("no units") };
  const total = (at: 0 | 1) => pairs.reduce((sum, pair) => sum + pair[at], 0);
  const ratios = pairs.map(([first, second]) => smallerOverLarger(first, second));
  return {
    totalDuration: { value: smallerOverLarger(total(0), total(1)) },
    meanDurationPerOccurrence: { value: ratios.reduce((sum, ratio) => sum + ratio, 0) / ratios.length },
  };
}
