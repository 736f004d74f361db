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
 * Source: any regression textbook: slope = Σ(x − x̄)(y − ȳ) / Σ(x − x̄)², summed about the means, so that large x (days) cost
 * no digits.
 *
 * @example leastSquares([{x: 0, y: 1}, {x: 7, y: 8}])?.slope // 1
 */
export function leastSquares(points: readonly Point[]): LeastSquares | null {
  const n = points.length;
  const [first] = points;
  if (!first) return null;
  let sumX = 0;
  let sumY = 0;
  let size = 0;
  for (const { x, y } of points) {
    sumX += x;
    sumY += y;
    size = Math.max(size, Math.abs(y));
  }
  const meanX = sumX / n;
  const meanY = sumY / n;
  let ofX = 0;
  let ofBoth = 0;
  let ofY = 0;
  let xDiffers = false;
  let yDiffers = false;
  for (const { x, y } of points) {
    const dx = x - meanX;
    const dy = y - meanY;
    ofX += dx * dx;
    ofBoth += dx * dy;
    ofY += dy * dy;
    xDiffers ||= x !== first.x;
    yDiffers ||= y !== first.y;
  }
  if (!xDiffers) return null;
  const slope = yDiffers ? ofBoth / ofX : 0;
  const intercept = yDiffers ? meanY - slope * meanX : first.y;
  let left = 0;
  for (const { x, y } of points) left += (y - intercept - slope * x) ** 2;
  const residualSd = n < 3 ? null : Math.sqrt(left / (n - 2));
  return {
    slope,
    intercept,
    r2: yDiffers ? Math.max(0, 1 - left / ofY) : null,
    residualSd: residualSd !== null && residualSd <= exactly * size ? 0 : residualSd,
  };
}
