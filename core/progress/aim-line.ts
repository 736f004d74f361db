import { median } from "simple-statistics";
import { reaches } from "../criteria/criterion.ts";
import { dayNumber } from "../dates/day-number.ts";
import type { Direction } from "../measures/direction-schema.ts";

export interface AimLine {
  from: string;
  fromValue: number;
  to: string;
  toValue: number;
  slopePerWeek: number;
}

interface Dated {
  date: string;
  value: number;
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
  baseline: readonly Dated[],
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

/** Why a goal is not compared with an aim line. */
export type NoAim =
  | "no criterion"
  | "no due date"
  | "no baseline"
  | "one baseline point"
  | "baseline meets the criterion"
  | "due before the baseline";

const fewestBaselinePoints = 2;

/**
 * The aim line that standing, pace and chart go by: one that rests on two observed baseline points or on a baseline that was entered, and
 * that leads from a baseline short of the criterion to the criterion.
 *
 * @param observed the baseline's measured points
 * @param entered a baseline that was entered rather than observed; used where nothing was observed
 * @returns the line, or why there is none
 */
export function usableAim(
  observed: readonly Dated[],
  entered: Dated | null,
  { criterion, due, direction }: { criterion: number | null; due: string | null; direction: Direction },
): AimLine | NoAim {
  if (criterion === null) return "no criterion";
  if (due === null) return "no due date";
  const baseline = observed.length > 0 ? observed : entered ? [entered] : [];
  if (baseline.length === 0) return "no baseline";
  if (observed.length > 0 && observed.length < fewestBaselinePoints) return "one baseline point";
  const line = aimLine(baseline, criterion, due);
  if (!line) return "due before the baseline";
  return reaches(line.fromValue, criterion, direction) ? "baseline meets the criterion" : line;
}

/** Where the aim line stands on a date: level at the criterion once it is due, continued backwards before it begins. */
export function aimAt(aim: AimLine, date: string): number {
  if (date >= aim.to) return aim.toValue;
  return aim.fromValue + (aim.slopePerWeek / 7) * (dayNumber(date) - dayNumber(aim.from));
}
