const millisecondsPerDay = 86_400_000;

/**
 * Days since 1 January 1970 of a calendar date; the same everywhere, since a date has no time zone.
 *
 * @param date `YYYY-MM-DD`
 * @throws RangeError when there is no such day
 */
export function dayNumber(date: string): number {
  const day = Date.parse(`${date}T00:00:00Z`) / millisecondsPerDay;
  if (!/^\d{4}-\d{2}-\d{2}$/.test(date) || !Number.isInteger(day) || dateOfDay(day) !== date)
    throw new RangeError(`${date} is not a date`);
  return day;
}

/** The calendar date, `YYYY-MM-DD`, of a day number. */
export function dateOfDay(day: number): string {
  return new Date(day * millisecondsPerDay).toISOString().slice(0, 10);
}

/** Monday = 1 … Sunday = 7. */
export function weekdayOf(date: string): number {
  // 1 January 1970 was a Thursday.
  return ((((dayNumber(date) + 3) % 7) + 7) % 7) + 1;
}

export function isDate(text: string): boolean {
  try {
    dayNumber(text);
    return true;
  } catch {
    return false;
  }
}
