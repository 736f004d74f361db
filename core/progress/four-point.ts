import type { Direction } from "../measures/direction-schema.ts";
import { type AimLine, aimAt } from "./aim-line.ts";

export type FourPoint = "ahead" | "behind" | "mixed" | "too-few";

/** How far each value lies on the better side of the aim line on its own date; in the measure's unit. */
export function differencesFromAim(
  points: readonly { date: string; value: number }[],
  aim: AimLine,
  direction: Direction,
): number[] {
  const sign = direction === "increase" ? 1 : -1;
  return points.map((point) => sign * (point.value - aimAt(aim, point.date)));
}

/**
 * Four-point rule: the last four points of the current phase against the aim line, each on its own date.
 * Ahead or behind only if all four lie strictly on that side.
 *
 * @param points of the current phase, in date order
 *
 * Source: data-based individualisation training of the National Center on Intensive Intervention, from memory.
 */
export function fourPoint(
  points: readonly { date: string; value: number }[],
  aim: AimLine,
  direction: Direction,
): FourPoint {
  const differences = differencesFromAim(points.slice(-4), aim, direction);
  if (differences.length < 4) return "too-few";
  if (differences.every((difference) => difference > 0)) return "ahead";
  if (differences.every((difference) => difference < 0)) return "behind";
  return "mixed";
}
