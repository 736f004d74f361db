import { kappa } from "./kappa.ts";
import { type Agreement, share } from "./ratio.ts";

/**
 * Agreement trial by trial: trials with the same mark / trials, in percent, and Cohen's kappa. Marks may be any labels.
 *
 * Source: Cooper, Heron & Heward, Applied Behavior Analysis, trial-by-trial interobserver agreement; Cohen (1960).
 *
 * @example trialAgreement([["1","1"], ["0","1"], ["1","1"], ["0","0"]]) // 75, kappa 0.5
 */
export function trialAgreement(pairs: readonly (readonly [string, string])[]): {
  trialByTrial: Agreement;
  kappa: Agreement;
} {
  const same = pairs.filter(([first, second]) => first === second).length;
  return { trialByTrial: share(same, pairs.length, "no units"), kappa: kappa(pairs) };
}
