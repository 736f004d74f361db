import { comparePairs } from "./nap.ts";

/** A value with its date, oriented so that larger is improvement. */
export interface Dated {
  date: string;
  value: number;
}

/**
 * Tau: the share of before–after pairs that are better less the share that are worse, 2·NAP − 1.
 *
 * @param before,after at least one value each, oriented so that larger is improvement
 * @returns −1 … 1; null where a phase is empty
 *
 * Source: R. I. Parker, K. J. Vannest, J. L. Davis & S. B. Sauber (2011), Behavior Therapy 42:284–299.
 *
 * @example tau([1, 2, 3], [2, 4, 5]) // 0.666…
 */
export function tau(before: readonly number[], after: readonly number[]): number | null {
  const all = before.length * after.length;
  const { better, worse } = comparePairs(before, after);
  return all === 0 ? null : (better - worse) / all;
}

/**
 * Tau-U: before against after, less the trend that was there before, (S_AB − S_AA) / (nA·nB). S_AA is over the ordered pairs of
 * the phase before; pairs on one date are left out of it. Not clipped to ±1.
 *
 * @param before in date order; both oriented so that larger is improvement
 * @returns null where a phase is empty
 *
 * Source: Parker, Vannest, Davis & Sauber (2011), Behavior Therapy 42:284–299.
 */
export function tauU(before: readonly Dated[], after: readonly Dated[]): number | null {
  const all = before.length * after.length;
  if (all === 0) return null;
  const { better, worse } = comparePairs(
    before.map(({ value }) => value),
    after.map(({ value }) => value),
  );
  let trend = 0;
  for (const [at, first] of before.entries())
    for (const second of before.slice(at + 1))
      if (first.date !== second.date) trend += Math.sign(second.value - first.value);
  return (better - worse - trend) / all;
}
