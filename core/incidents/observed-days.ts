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
