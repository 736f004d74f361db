import { leastSquares } from "./least-squares.ts";
import type { Point } from "./theil-sen.ts";

/**
 * Weekly multiplier of a count per time (celeration): by how much it is multiplied from one week to the next,
 * 10^(7 · slope of log₁₀ value per day).
 *
 * @param points x in days, y a count per time
 * @returns null with fewer than two different days, or where a value is not above 0
 *
 * Source: H. S. Pennypacker, A. Gutierrez & O. R. Lindsley (2003), Handbook of the Standard Celeration Chart, from memory.
 *
 * @example weeklyMultiplier([{x: 0, y: 10}, {x: 7, y: 12.5}]) // 1.25
 */
export function weeklyMultiplier(points: readonly Point[]): number | null {
  if (points.some(({ y }) => y <= 0)) return null;
  const line = leastSquares(points.map(({ x, y }) => ({ x, y: Math.log10(y) })));
  return line && 10 ** (7 * line.slope);
}
