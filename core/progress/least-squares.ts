import { linearRegression, mean, sum } from "simple-statistics";
import type { Point } from "./theil-sen.ts";

export interface LeastSquares {
  /** In the measure's unit per day. */
  slope: number;
  intercept: number;
  /** Share of the variance that the line holds, 0 … 1; null where all values are equal. */
  r2: number | null;
  /** √(Σ residual² / (n − 2)), in the measure's unit; null with fewer than 3 points. */
  residualSd: number | null;
}

/** Below this share of the values there is no residual, only floating point. */
const exactly = 1e-10;

/**
 * Least-squares line through the points.
 *
 * @param points x in days, y in the measure's unit; several at one x are kept
 * @returns null with fewer than two different x
 *
 * Source: any regression textbook; slope and intercept from the library simple-statistics.
 *
 * @example leastSquares([{x: 0, y: 1}, {x: 7, y: 8}])?.slope // 1
 */
export function leastSquares(points: readonly Point[]): LeastSquares | null {
  if (new Set(points.map(({ x }) => x)).size < 2) return null;
  const { m: slope, b: intercept } = linearRegression(points.map(({ x, y }) => [x, y]));
  const ys = points.map(({ y }) => y);
  const middle = mean(ys);
  const about = sum(ys.map((y) => (y - middle) ** 2));
  const left = sum(points.map(({ x, y }) => (y - intercept - slope * x) ** 2));
  const residualSd = points.length < 3 ? null : Math.sqrt(left / (points.length - 2));
  const size = Math.max(...ys.map(Math.abs));
  return {
    ...{ slope, intercept },
    r2: new Set(ys).size < 2 ? null : Math.max(0, 1 - left / about),
    residualSd: residualSd !== null && residualSd <= exactly * size ? 0 : residualSd,
  };
}
