import { dateOfDay, dayNumber, weekdayOf } from "./day-number.ts";

export const weekdayNames = [
  "Monday",
  "Tuesday",
  "Wednesday",
  "Thursday",
  "Friday",
  "Saturday",
  "Sunday",
] as const;

/** The name of a weekday of ISO 8601: Monday = 1 … Sunday = 7. */
export function weekdayName(weekday: number): string {
  return weekdayNames[weekday - 1] ?? "";
}

/** The Monday of a date's week, so that all days of one week share a name. Dates are `YYYY-MM-DD`. */
export function weekOf(date: string): string {
  return dateOfDay(dayNumber(date) - weekdayOf(date) + 1);
}
