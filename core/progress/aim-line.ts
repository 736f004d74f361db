import { median } from "simple-statistics";
import { dayNumber } from "../dates/day-number.ts";

export interface AimLine {
  from: string;
  fromValue: number;
  to: string;
  toValue: number;
  slopePerWeek: number;
}

/**
 * Aim line: from the last baseline date at the median baseline value to the due date at the criterion.
 *
 * @param baseline the baseline's measured points
 * @returns null without a baseline, a criterion or a due date, or if the due date is not after the last baseline date
 *
 * Source: data-based individualisation training of the National Center on Intensive Intervention, from memory.
 */
export function aimLine(
  baseline: readonly { date: string; value: number }[],
  criterion: number | null,
  due: string | null,
): AimLine | null {
  const from = baseline.reduce<string | null>(
    (latest, point) => (latest === null || point.date > latest ? point.date : latest),
    null,
  );
  if (from === null || criterion === null || due === null || due <= from) return null;
  const fromValue = median(baseline.map((point) => point.value));
  const days = dayNumber(due) - dayNumber(from);
  return { from, fromValue, to: due, toValue: criterion, slopePerWeek: (7 * (criterion - fromValue)) / days };
}

/** Where the aim line stands on a date: level at the criterion once it is due, continued backwards before it begins. */
export function aimAt(aim: AimLine, date: string): number {
  if (date >= aim.to) return aim.toValue;
  return aim.fromValue + (aim.slopePerWeek / 7) * (dayNumber(date) - dayNumber(aim.from));
}
