import { type Agreement, none, share, smallerOverLarger } from "./ratio.ts";

/**
 * Agreement on how often something was seen. Each unit is one interval of the observation with the count of each
 * observer; a whole observation may be one unit.
 *
 * @param pairs counts ≥ 0, first and second observer
 * @returns percentages: total count = smaller / larger of the sums; mean count-per-interval = the mean of smaller /
 *   larger over the intervals; exact count-per-interval = intervals with equal counts / intervals. 0 against 0 agrees.
 *
 * Source: Cooper, Heron & Heward, Applied Behavior Analysis, interobserver agreement for event recording.
 *
 * @example countAgreement([[1, 1], [2, 1], [0, 0], [3, 3]]) // total 83.3, mean 87.5, exact 75
 */
export function countAgreement(pairs: readonly (readonly [number, number])[]): {
  totalCount: Agreement;
  meanCountPerInterval: Agreement;
  exactCountPerInterval: Agreement;
} {
  const n = pairs.length;
  const total = (at: 0 | 1) => pairs.reduce((sum, pair) => sum + pair[at], 0);
  return {
    totalCount: n === 0 ? none("no units") : { value: smallerOverLarger(total(0), total(1)) },
    meanCountPerInterval:
      n === 0
        ? none("no units")
        : { value: pairs.reduce((sum, [first, second]) => sum + smallerOverLarger(first, second), 0) / n },
    exactCountPerInterval: share(pairs.filter(([first, second]) => first === second).length, n, "no units"),
  };
}
