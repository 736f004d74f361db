import { median } from "simple-statistics";

/**
 * PND, the percent of points after that lie beyond the best one before, strictly.
 *
 * @param before,after at least one value each, oriented so that larger is improvement
 * @returns 0 … 100; null where a phase is empty
 *
 * Source: T. E. Scruggs, M. A. Mastropieri & G. Casto (1987), Remedial and Special Education 8(2):24–33.
 */
export function pnd(before: readonly number[], after: readonly number[]): number | null {
  if (before.length === 0 || after.length === 0) return null;
  const best = Math.max(...before);
  return (100 * after.filter((value) => value > best).length) / after.length;
}

/**
 * PEM, the percent of points after that lie beyond the median of those before; a point on the median counts half.
 *
 * @param before,after at least one value each, oriented so that larger is improvement
 * @returns 0 … 100; null where a phase is empty
 *
 * Source: H.-H. Ma (2006), Behavior Modification 30:598–617; the half for ties is ours.
 */
export function pem(before: readonly number[], after: readonly number[]): number | null {
  if (before.length === 0 || after.length === 0) return null;
  const middle = median([...before]);
  const beyond = after.filter((value) => value > middle).length;
  const on = after.filter((value) => value === middle).length;
  return (100 * (beyond + on / 2)) / after.length;
}
