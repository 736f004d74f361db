import { dayNumber } from "./day-number.ts";

const quietAfterDays = 14;

/**
 * Has a goal gone without a measurement for more than two weeks, or never been measured?
 *
 * @param last the date of the last measured entry, or null; `today` is the school's own date
 *
 * Source: two weeks are ours, until a goal's own schedule says when data are due.
 */
export function isQuiet(last: string | null, today: string): boolean {
  return last === null || dayNumber(today) - dayNumber(last) > quietAfterDays;
}
