import { dateOfDay, dayNumber, weekdayOf } from "../dates/day-number.ts";
import { localDay, localMoment, momentOfLocal } from "../dates/school-time.ts";
import { isInSession, type SchoolCalendar } from "../schedule/calendar.ts";

/** When a person wants messages. Times are the school's own, `HH:MM`. */
export interface SendingHours {
  /** Nothing comes from this time until `quietTo`, past midnight where that is earlier; null: at any time. */
  quiet: { from: string; to: string } | null;
  /** Nothing comes on days without school. */
  schoolDaysOnly: boolean;
  /** When daily and weekly summaries come, and on which weekday the weekly one, Monday = 1. */
  summaryAt: string;
  summaryOn: number;
}

/** How it is for a person who has chosen nothing. */
export const usualHours: SendingHours = {
  quiet: { from: "18:00", to: "07:00" },
  schoolDaysOnly: true,
  summaryAt: "15:30",
  summaryOn: 5,
};

/** The school's time zone, and the days it is in session. */
export interface SchoolTime {
  timeZone: string;
  calendar: SchoolCalendar;
}

/** So many days ahead a school day is looked for; without one, as in a school whose next year is not entered yet, weekdays with school count. */
const farthest = 120;

/** Is this a day on which messages come? */
function dayCounter({ schoolDaysOnly }: SendingHours, { calendar }: SchoolTime, from: string) {
  if (!schoolDaysOnly) return () => true;
  const ahead = (date: string) => dayNumber(date) - dayNumber(from);
  const first = Array.from({ length: farthest }, (_, days) => dateOfDay(dayNumber(from) + days)).find(
    (date) => isInSession(calendar, date),
  );
  return (date: string) =>
    first === undefined || ahead(date) > farthest
      ? calendar.schoolDays.includes(weekdayOf(date)) || calendar.schoolDays.length === 0
      : isInSession(calendar, date);
}

const next = (date: string) => dateOfDay(dayNumber(date) + 1);

/** When quiet hours that hold at a local date and time end, `YYYY-MM-DDTHH:MM`; null where none hold. */
function quietEnd({ quiet }: SendingHours, date: string, time: string): string | null {
  if (quiet === null || quiet.from === quiet.to) return null;
  const { from, to } = quiet;
  if (from < to) return time >= from && time < to ? `${date}T${to}` : null;
  if (time < to) return `${date}T${to}`;
  return time >= from ? `${next(date)}T${to}` : null;
}

/**
 * The first moment, from one on, at which a message may come. Where the clocks go back, an hour that there is twice ends with its first
 * end; where they go ahead, an end within the gap comes as many minutes after it.
 *
 * @param at milliseconds since 1970
 * @returns the same where it may come at once
 */
export function sendableFrom(at: number, hours: SendingHours, school: SchoolTime): number {
  const { timeZone } = school;
  const counts = dayCounter(hours, school, localDay(timeZone, at));
  for (let moment = at; ;) {
    const local = localMoment(timeZone, moment);
    const [date, time] = [local.slice(0, 10), local.slice(11, 16)];
    const end = counts(date) ? quietEnd(hours, date, time) : `${next(date)}T00:00`;
    const ends = end === null ? moment : momentOfLocal(timeZone, end);
    if (ends <= moment) return moment;
    moment = ends;
  }
}

/**
 * The moment of a person's next summary after a moment. A weekly one whose day has no school comes on the next day that has.
 *
 * @param at milliseconds since 1970
 */
export function nextSummary(
  at: number,
  way: "daily" | "weekly",
  hours: SendingHours,
  school: SchoolTime,
): number {
  const { timeZone } = school;
  const today = localDay(timeZone, at);
  const counts = dayCounter(hours, school, today);
  const momentOn = (date: string) => momentOfLocal(timeZone, `${date}T${hours.summaryAt}`);
  let day = today;
  while (momentOn(day) <= at) day = next(day);
  if (way === "weekly") while (weekdayOf(day) !== hours.summaryOn) day = next(day);
  while (!counts(day)) day = next(day);
  return momentOn(day);
}
