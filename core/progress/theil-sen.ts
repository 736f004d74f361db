import { median } from "simple-statistics";
import { tieSizes, tieTerm } from "./ties.ts";

export interface Point {
  x: number;
  y: number;
}

export interface TheilSen {
  slope: number;
  intercept: number;
  low: number | null;
  high: number | null;
}

const z95 = 1.959964;

/** Rounds to the nearest whole number, a half to the even one. */
function roundHalfEven(value: number): number {
  const floor = Math.floor(value);
  if (value - floor !== 0.5) return Math.round(value);
  return floor % 2 === 0 ? floor : floor + 1;
}

/**
 * Theil–Sen line: the median of all pairwise slopes between different x, so that one bad day does not swing it.
 *
 * The intercept is median(y) − slope · median(x). The 95 % interval is the pair of slopes at the ranks
 * round((N − zσ)/2) and round((N + zσ)/2) + 1 of the N sorted slopes, with
 * σ² = [n(n−1)(2n+5) − ties in x − ties in y] / 18; null below 5 points and where σ² ≤ 0.
 *
 * @param points x in days (any unit of time), y in the measure's unit; pairs at equal x are left out
 * @returns null with fewer than two different x
 *
 * Source: H. Theil (1950), Indagationes Mathematicae 12; P. K. Sen (1968), Journal of the American Statistical Association
 * 63:1379–1389, eq. 2.6. Single-case data are autocorrelated, so the interval is optimistic.
 *
 * @example theilSen([{x: 0, y: 1}, {x: 1, y: 2}, {x: 2, y: 30}])?.slope // 14.5
 */
export function theilSen(points: readonly Point[]): TheilSen | null {
  const slopes: number[] = [];
  for (const [index, a] of points.entries()) {
    for (let other = index + 1; other < points.length; other += 1) {
      const b = points[other];
      if (b && b.x !== a.x) slopes.push((b.y - a.y) / (b.x - a.x));
    }
  }
  if (slopes.length === 0) return null;
  const sorted = Float64Array.from(slopes).sort();
  const middle = sorted.length / 2;
  const slope =
    sorted.length % 2 === 1
      ? (sorted[Math.floor(middle)] ?? 0)
      : ((sorted[middle - 1] ?? 0) + (sorted[middle] ?? 0)) / 2;
  const xs = points.map((point) => point.x);
  const ys = points.map((point) => point.y);
  return { slope, intercept: median(ys) - slope * median(xs), ...slopeInterval(sorted, xs, ys) };
}

function slopeInterval(
  sorted: Float64Array,
  xs: readonly number[],
  ys: readonly number[],
): { low: number | null; high: number | null } {
  const n = xs.length;
  const variance = (n * (n - 1) * (2 * n + 5) - tieTerm(tieSizes(xs)) - tieTerm(tieSizes(ys))) / 18;
  if (n < 5 || variance <= 0) return { low: null, high: null };
  const spread = z95 * Math.sqrt(variance);
  const total = sorted.length;
  const at = (rank: number) => sorted[Math.min(total, Math.max(1, rank)) - 1] ?? null;
  return { low: at(roundHalfEven((total - spread) / 2)), high: at(roundHalfEven((total + spread) / 2) + 1) };
}
