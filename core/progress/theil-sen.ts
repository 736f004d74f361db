import { ranked } from "./ranked.ts";
import { slopeRanks } from "./slope-ranks.ts";
import { tieSizes, tieTerm } from "./ties.ts";

export interface Point {
  x: number;
  y: number;
}

export interface TheilSenLine {
  slope: number;
  intercept: number;
}

export interface TheilSen extends TheilSenLine {
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

/** The x and y of points as lists of one kind: whole numbers and fractions would be read by different code. */
function columns(points: readonly Point[]): [xs: Float64Array, ys: Float64Array] {
  const xs = new Float64Array(points.length);
  const ys = new Float64Array(points.length);
  points.forEach(({ x, y }, at) => {
    xs[at] = x;
    ys[at] = y;
  });
  return [xs, ys];
}

/** The median of a list, which is rearranged. */
function middle(values: Float64Array): number {
  const last = values.length - 1;
  const upper = Math.ceil(last / 2);
  const high = ranked(values, upper, 0, last);
  if (last % 2 === 0) return high;
  return (values.subarray(0, upper).reduce((most, value) => Math.max(most, value), -Infinity) + high) / 2;
}

type Slopes = ReturnType<typeof slopeRanks>;

const middleSlope = ({ total, at }: Slopes): number => {
  const upper = Math.floor(total / 2);
  return total % 2 === 1 ? at(upper) : (at(upper - 1) + at(upper)) / 2;
};

/** The line of a slope through the middle of the points; their lists are rearranged. */
const lineOf = (slope: number, xs: Float64Array, ys: Float64Array): TheilSenLine => ({
  slope,
  intercept: middle(ys) - slope * middle(xs),
});

/** Theil–Sen line alone, without the interval of its slope: see `theilSen`. */
export function theilSenLine(points: readonly Point[]): TheilSenLine | null {
  const [xs, ys] = columns(points);
  const slopes = slopeRanks(xs, ys);
  return slopes.total === 0 ? null : lineOf(middleSlope(slopes), xs, ys);
}

/**
 * Theil–Sen line: the median of all pairwise slopes between different x, so that one bad day does not swing it.
 *
 * The intercept is median(y) − slope · median(x). The 95% interval is the pair of slopes at the ranks
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
  const [xs, ys] = columns(points);
  const slopes = slopeRanks(xs, ys);
  const { total } = slopes;
  if (total === 0) return null;
  const variance = (n * (n - 1) * (2 * n + 5) - tieTerm(tieSizes(xs)) - tieTerm(tieSizes(ys))) / 18;
  if (n < 5 || variance <= 0) return { ...lineOf(middleSlope(slopes), xs, ys), low: null, high: null };
  const spread = z95 * Math.sqrt(variance);
  const placeOf = (rank: number) => Math.min(total, Math.max(1, rank)) - 1;
  const low = slopes.at(placeOf(roundHalfEven((total - spread) / 2)));
  const high = slopes.at(placeOf(roundHalfEven((total + spread) / 2) + 1));
  return { ...lineOf(middleSlope(slopes), xs, ys), low, high };
}
