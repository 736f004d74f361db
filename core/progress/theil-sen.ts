import { median, quickselect } from "simple-statistics";
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
  const n = points.length;
  const xs = points.map(({ x }) => x);
  const ys = points.map(({ y }) => y);
  const slopes = new Array<number>((n * (n - 1)) / 2);
  let total = 0;
  for (let first = 0; first < n; first += 1) {
    const [x, y] = [xs[first] ?? 0, ys[first] ?? 0];
    for (let second = first + 1; second < n; second += 1) {
      const apart = (xs[second] ?? 0) - x;
      if (apart !== 0) slopes[total++] = ((ys[second] ?? 0) - y) / apart;
    }
  }
  if (total === 0) return null;
  slopes.length = total;
  const upper = Math.floor(total / 2);
  const high = ranked(slopes, upper, 0, total - 1);
  const slope = total % 2 === 1 ? high : (ranked(slopes, upper - 1, 0, upper - 1) + high) / 2;
  return { slope, intercept: median(ys) - slope * median(xs), ...slopeInterval(slopes, upper, xs, ys) };
}

/** The value of a rank (from 0) among those between two places; those of lower ranks come to stand left of it. */
function ranked(values: number[], rank: number, from: number, to: number): number {
  quickselect(values, rank, from, to);
  return values[rank] ?? 0;
}

/** @param slopes parted at `middle`: none left of it is larger, none right of it smaller */
function slopeInterval(
  slopes: number[],
  middle: number,
  xs: readonly number[],
  ys: readonly number[],
): { low: number | null; high: number | null } {
  const n = xs.length;
  const variance = (n * (n - 1) * (2 * n + 5) - tieTerm(tieSizes(xs)) - tieTerm(tieSizes(ys))) / 18;
  if (n < 5 || variance <= 0) return { low: null, high: null };
  const spread = z95 * Math.sqrt(variance);
  const total = slopes.length;
  const at = (rank: number) => {
    const place = Math.min(total, Math.max(1, rank)) - 1;
    return place < middle ? ranked(slopes, place, 0, middle - 1) : ranked(slopes, place, middle, total - 1);
  };
  return { low: at(roundHalfEven((total - spread) / 2)), high: at(roundHalfEven((total + spread) / 2) + 1) };
}
