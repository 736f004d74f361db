import { dateOfDay, dayNumber, weekdayOf } from "../dates/day-number.ts";
import { type DateSpan, spanOn } from "../dates/date-span.ts";
import { weekdayName } from "../dates/week.ts";
import { shortDate } from "../words/dates.ts";

/** The calendar of a school. Without a school year every school day of the week is in session, so that data still fall due. */
export interface SchoolCalendar {
  /** Weekdays with school, Monday = 1 … Sunday = 7. */
  schoolDays: readonly number[];
  years: readonly DateSpan[];
  closures: readonly DateSpan[];
  reportingPeriods: readonly DateSpan[];
}

/** A longer year is typed wrong: it would run into the next one. */
const longestYear = 400;

/** What is wrong with the dates of a school year, beside its last day; null where they may stand. */
export function yearProblem({ fromOn, toOn }: Pick<DateSpan, "fromOn" | "toOn">): string | null {
  if (toOn <= fromOn) return "The year ends before it begins.";
  return dayNumber(toOn) - dayNumber(fromOn) > longestYear
    ? `A school year is at most ${longestYear} days.`
    : null;
}

/** The school year of a date; null between two, or before there are any. */
export function schoolYearOn<Span extends DateSpan>(
  { years }: { years: readonly Span[] },
  date: string,
): Span | null {
  return spanOn(years, date);
}

/** The reporting period of a date; null between two, or before there are any. */
export function reportingPeriodOn(calendar: SchoolCalendar, date: string): DateSpan | null {
  return spanOn(calendar.reportingPeriods, date);
}

/** Why there is no school on a day: a closure by its name, the weekday, or the time between two years; null when there is. */
export function whyNoSchool(calendar: SchoolCalendar, date: string): string | null {
  if (calendar.years.length > 0 && !schoolYearOn(calendar, date)) return "outside the school year";
  const weekday = weekdayOf(date);
  if (!calendar.schoolDays.includes(weekday)) return weekdayName(weekday);
  return spanOn(calendar.closures, date)?.name ?? null;
}

/** Is there school on this date? A weekend, a closed day and a day outside every school year are not in session. */
export function isInSession(calendar: SchoolCalendar, date: string): boolean {
  return whyNoSchool(calendar, date) === null;
}

/** "Sat, Nov 28 is not a school day (Saturday)": asked before an entry of such a day counts; null on a school day. */
export function noSchoolWords(calendar: SchoolCalendar, date: string): string | null {
  const why = whyNoSchool(calendar, date);
  return why && `${shortDate(date)} is not a school day (${why}).`;
}

/**
 * The days in session from one date to another, both included.
 *
 * @returns dates in order; empty when `fromOn` is after `toOn`
 */
export function daysInSession(calendar: SchoolCalendar, fromOn: string, toOn: string): string[] {
  const days: string[] = [];
  for (let day = dayNumber(fromOn); day <= dayNumber(toOn); day += 1) {
    const date = dateOfDay(day);
    if (isInSession(calendar, date)) days.push(date);
  }
  return days;
}

/** Further ahead the next day is not looked for: a break of school lies between. */
export const mostDaysAhead = 28;

/** The first day in session after a date; null where none of the next four weeks is. */
export function nextInSession(calendar: SchoolCalendar, date: string): string | null {
  const from = dayNumber(date) + 1;
  return daysInSession(calendar, dateOfDay(from), dateOfDay(from + mostDaysAhead - 1))[0] ?? null;
}
