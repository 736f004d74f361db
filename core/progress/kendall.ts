import normalCdf from "@stdlib/stats-base-dists-normal-cdf";
import type { Point } from "./theil-sen.ts";
import { tieSizes, tieTerm } from "./ties.ts";

export interface Kendall {
  /** Pairs that rise together less pairs that do not. */
  s: number;
  /** −1 … 1, corrected for ties; null where all values are equal. */
  tauB: number | null;
  /** Two-sided; null where S cannot vary. */
  p: number | null;
}

const choose2 = (t: number) => (t * (t - 1)) / 2;
const sumOf = (sizes: readonly number[], term: (t: number) => number) =>
  sizes.reduce((all, t) => all + term(t), 0);

/**
 * Kendall's S and tau-b of value against date, with p from z = (|S| − 1) / σ (0 if S = 0) and σ² the full tie-corrected variance.
 *
 * @param points x in days (any unit of time), y in any unit
 * @returns null with fewer than two different x
 *
 * Source: M. G. Kendall (1975), Rank Correlation Methods; H. B. Mann (1945), Econometrica 13:245–259. The points of one student
 * follow each other and are alike, so the p is optimistic.
 *
 * @example kendall([{x: 0, y: 1}, {x: 1, y: 2}, {x: 2, y: 3}])?.s // 3
 */
export function kendall(points: readonly Point[]): Kendall | null {
  const n = points.length;
  let s = 0;
  for (let first = 0; first < n; first += 1)
    for (let second = first + 1; second < n; second += 1) {
      const [a, b] = [points[first], points[second]];
      if (a && b) s += Math.sign(b.x - a.x) * Math.sign(b.y - a.y);
    }
  const [inX, inY] = [tieSizes(points.map(({ x }) => x)), tieSizes(points.map(({ y }) => y))];
  const pairs = choose2(n);
  const [apartX, apartY] = [pairs - sumOf(inX, choose2), pairs - sumOf(inY, choose2)];
  if (apartX === 0 || n < 2) return null;
  const threes = (sizes: readonly number[]) => sumOf(sizes, (t) => t * (t - 1) * (t - 2));
  const variance =
    (n * (n - 1) * (2 * n + 5) - tieTerm(inX) - tieTerm(inY)) / 18 +
    (n > 2 ? (threes(inX) * threes(inY)) / (9 * n * (n - 1) * (n - 2)) : 0) +
    (4 * sumOf(inX, choose2) * sumOf(inY, choose2)) / (2 * n * (n - 1));
  const z = s === 0 ? 0 : (Math.abs(s) - 1) / Math.sqrt(variance);
  return {
    s,
    tauB: apartY === 0 ? null : s / Math.sqrt(apartX * apartY),
    // Where all values are equal S is always 0, whatever floating point leaves of its variance.
    p: apartY === 0 || variance <= 0 ? null : Math.min(1, 2 * normalCdf(-z, 0, 1)),
  };
}
