import { linearRegression } from "simple-statistics";
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
  const [first] = points;
  if (!first || points.every(({ x }) => x === first.x)) return null;
  const { m: slope, b: intercept } = linearRegression(points.map(({ x, y }) => [x, y]));
  let [total, size] = [0, 0];
  for (const { y } of points) {
    total += y;
    size = Math.max(size, Math.abs(y));
  }
  const middle = total / points.length;
  let [about, left] = [0, 0];
  for (const { x, y } of points) {
    about += (y - middle) ** 2;
    left += (y - intercept - slope * x) ** 2;
  }
  const residualSd = points.length < 3 ? null : Math.sqrt(left / (points.length - 2));
  return {
    ...{ slope, intercept },
    r2: points.every(({ y }) => y === first.y) ? null : Math.max(0, 1 - left / about),
    residualSd: residualSd !== null && residualSd <= exactly * size ? 0 : residualSd,
  };
}
