const millisecondsPerDay = 86_400_000;
/** Years below 100 are others to the clock. */
const firstTime = Date.UTC(100, 0, 1);
const pattern = /^(\d{4})-(\d{2})-(\d{2})$/;

/**
 * Days since 1 January 1970 of a calendar date; the same everywhere, since a date has no time zone.
 *
 * @param date `YYYY-MM-DD`
 * @throws RangeError when there is no such day
 */
export function dayNumber(date: string): number {
  const [, year, month, dayOfMonth] = pattern.exec(date) ?? [];
  const time = Date.UTC(Number(year), Number(month) - 1, Number(dayOfMonth));
  // 31 February is a day of March to the clock: such a day, like what is no date at all, is none.
  const there = new Date(time);
  if (
    !(time > firstTime) ||
    there.getUTCMonth() !== Number(month) - 1 ||
    there.getUTCDate() !== Number(dayOfMonth)
  )
    throw new RangeError(`${date} is not a date`);
  const day = time / millisecondsPerDay;
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
