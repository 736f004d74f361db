import tCdf from "@stdlib/stats-base-dists-t-cdf";
import tQuantile from "@stdlib/stats-base-dists-t-quantile";
import { mean, sum } from "simple-statistics";
import { reaches } from "../criteria/criterion.ts";
import type { Direction } from "../measures/direction-schema.ts";
import type { LeastSquares } from "./least-squares.ts";
import type { Point } from "./theil-sen.ts";

export interface Projection {
  /** Where the line stands on that day; in the measure's unit. */
  mean: number;
  /** 80% prediction interval of one new observation; null where every point lies on the line. */
  low80: number | null;
  high80: number | null;
  /** That one observation on that day meets the criterion, 0 … 1. */
  probability: number | null;
  /** First day (as x) on which the line meets the criterion; null if it does not within two years. */
  expectedAt: number | null;
}

const fewestToProject = { points: 6, days: 3 };
const twoYears = 730;
/** Allows for rounding of floating point: a value on the criterion line meets it. */
const onTheLine = 1e-9;

/**
 * Where one new observation on a day to come would fall: the least-squares prediction interval, t with n − 2 degrees of freedom,
 * standard error residualSd · √(1 + 1/n + (x₀ − x̄)² / Σ (x − x̄)²).
 *
 * @param points of the current phase, x in days, with their least-squares line
 * @param at the day, as x
 * @returns null with fewer than 6 points or 3 different days
 *
 * Source: any regression textbook. A straight line goes on for ever and the points follow each other: it is an outlook, no promise.
 */
export function project(
  points: readonly Point[],
  line: LeastSquares,
  at: number,
  { criterion, direction }: { criterion: number | null; direction: Direction },
): Projection | null {
  const n = points.length;
  const xs = points.map(({ x }) => x);
  if (n < fewestToProject.points || new Set(xs).size < fewestToProject.days) return null;
  const { slope, intercept, residualSd } = line;
  const value = (x: number) => intercept + slope * x;
  const middle = mean(xs);
  const wide = sum(xs.map((x) => (x - middle) ** 2));
  const error =
    residualSd === null || residualSd === 0
      ? null
      : residualSd * Math.sqrt(1 + 1 / n + (at - middle) ** 2 / wide);
  const half = error === null ? null : tQuantile(0.9, n - 2) * error;
  const below = error === null || criterion === null ? null : tCdf((criterion - value(at)) / error, n - 2);
  return {
    mean: value(at),
    low80: half === null ? null : value(at) - half,
    high80: half === null ? null : value(at) + half,
    probability: below === null ? null : direction === "increase" ? 1 - below : below,
    expectedAt: criterion === null ? null : firstMeeting(value, Math.max(...xs), criterion, direction),
  };
}

function firstMeeting(
  value: (x: number) => number,
  from: number,
  criterion: number,
  direction: Direction,
): number | null {
  const near = onTheLine * Math.max(1, Math.abs(criterion)) * (direction === "increase" ? 1 : -1);
  for (let x = from; x <= from + twoYears; x += 1)
    if (reaches(value(x) + near, criterion, direction)) return x;
  return null;
}
