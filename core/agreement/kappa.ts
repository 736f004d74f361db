import { type Agreement, none } from "./ratio.ts";

/**
 * Cohen's kappa: agreement beyond what two observers with these habits would reach by chance, (pₒ − pₑ) / (1 − pₑ).
 *
 * @param pairs the label each observer gave each unit
 * @returns −1 … 1; null without units, and where both gave every unit one and the same label (pₑ = 1)
 *
 * Source: Cohen, J. (1960). A coefficient of agreement for nominal scales. Educational and Psychological Measurement, 20, 37–46.
 *
 * @example kappa([["a", "a"], ["a", "b"], ["b", "b"], ["b", "b"]]) // 0.5
 */
export function kappa(pairs: readonly (readonly [string, string])[]): Agreement {
  const n = pairs.length;
  if (n === 0) return none("no units");
  const labels = new Set(pairs.flat());
  const share = (at: 0 | 1, label: string) => pairs.filter((pair) => pair[at] === label).length / n;
  const observed = pairs.filter(([first, second]) => first === second).length / n;
  const byChance = [...labels].reduce((sum, label) => sum + share(0, label) * share(1, label), 0);
  if (labels.size === 1) return none("both gave every unit the same label");
  return { value: (observed - byChance) / (1 - byChance) };
}
