import { dateOfDay, dayNumber, weekdayOf } from "../dates/day-number.ts";
import { daysInSession, type SchoolCalendar } from "../schedule/calendar.ts";

/** What was said of days: absences, days nobody observed, days watched on which nothing happened. All `YYYY-MM-DD`. */
export interface SaidDays {
  absences: readonly string[];
  notObserved: readonly string[];
  none: readonly string[];
}

/**
 * The school days that count when a rate is made: days in session, less absences and days marked not observed. A day with an
 * incident was observed whatever else was said of it.
 *
 * @returns dates in order, and those of them on which nobody wrote anything: neither an incident nor that there was none
 */
export function observedDays(
  calendar: SchoolCalendar,
  span: { from: string; to: string },
  said: SaidDays,
  incidentDays: ReadonlySet<string>,
): { days: string[]; silent: string[] } {
  const out = new Set([...said.absences, ...said.notObserved]);
  const inSession = daysInSession(calendar, span.from, span.to).filter((day) => !out.has(day));
  const extra = [...incidentDays].filter((day) => span.from <= day && day <= span.to);
  const days = [...new Set([...inSession, ...extra])].sort();
  const none = new Set(said.none);
  return { days, silent: days.filter((day) => !incidentDays.has(day) && !none.has(day)) };
}

/** Every weekday from the first of these days to the last, and these days themselves: for incidents of which no calendar is known. */
export function observedWeekdays(incidentDays: readonly string[]): string[] {
  const sorted = [...incidentDays].sort();
  const [first, last] = [sorted[0], sorted.at(-1)];
  if (first === undefined || last === undefined) return [];
  const days = new Set(sorted);
  for (let day = dayNumber(first); day <= dayNumber(last); day += 1) {
    const date = dateOfDay(day);
    if (weekdayOf(date) <= 5) days.add(date);
  }
  return [...days].sort();
}
