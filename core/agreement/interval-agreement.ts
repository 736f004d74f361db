import { kappa } from "./kappa.ts";
import { type Agreement, share } from "./ratio.ts";

/**
 * Agreement on intervals scored 1 (seen) or 0 (not seen) by two observers.
 *
 * @param pairs the marks of each interval that both observed, first and second observer
 * @returns percentages: interval-by-interval = agreements / intervals; scored-interval = both 1 / either 1;
 *   unscored-interval = both 0 / either 0 (null where no interval is left to divide by); and Cohen's kappa, −1 … 1
 *
 * Source: Cooper, Heron & Heward, Applied Behavior Analysis, interobserver agreement for interval recording; Cohen (1960).
 *
 * @example intervalAgreement([["1","1"], ["1","0"], ["0","0"], ["0","0"]]) // 75, scored 50, unscored 66.7, kappa 0.5
 */
export function intervalAgreement(pairs: readonly (readonly ["0" | "1", "0" | "1"])[]): {
  intervalByInterval: Agreement;
  scoredInterval: Agreement;
  unscoredInterval: Agreement;
  kappa: Agreement;
} {
  const both = (mark: string) => pairs.filter(([first, second]) => first === mark && second === mark).length;
  const either = (mark: string) =>
    pairs.filter(([first, second]) => first === mark || second === mark).length;
  return {
    intervalByInterval: share(both("1") + both("0"), pairs.length, "no units"),
    scoredInterval: share(both("1"), either("1"), "no interval was scored by either"),
    unscoredInterval: share(both("0"), either("0"), "no interval was left unscored by either"),
    kappa: kappa(pairs),
  };
}
