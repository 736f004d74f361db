import type { DateSpan } from "../dates/date-span.ts";
import { dateOfDay, dayNumber } from "../dates/day-number.ts";
import type { SchoolCalendar } from "./calendar.ts";

/** So many days after a reporting period its statements are still being written. */
const daysAfter = 21;

/** The reporting periods that have begun, the newest first: statements can be written for these. */
export const begunPeriods = (
  { reportingPeriods }: Pick<SchoolCalendar, "reportingPeriods">,
  today: string,
): DateSpan[] =>
  reportingPeriods.filter(({ fromOn }) => fromOn <= today).sort((a, b) => (a.fromOn < b.fromOn ? 1 : -1));

/**
 * The reporting period whose statements are written now: the one that ended in the last three weeks, else the one that runs, else the last
 * one; null where none has begun.
 */
export function periodToWrite(
  calendar: Pick<SchoolCalendar, "reportingPeriods">,
  today: string,
): DateSpan | null {
  const begun = begunPeriods(calendar, today);
  const since = dateOfDay(dayNumber(today) - daysAfter);
  return begun.find(({ toOn }) => since <= toOn && toOn < today) ?? begun[0] ?? null;
}

/** So many days before the end of a period its statements are begun. */
const daysBefore = 14;

/** The period of which statements are being written: from two weeks before its end to three weeks after; null at other times. */
export function reportWeek(
  calendar: Pick<SchoolCalendar, "reportingPeriods">,
  today: string,
): DateSpan | null {
  const period = periodToWrite(calendar, today);
  if (!period) return null;
  const [first, last] = [-daysBefore, daysAfter].map((days) => dateOfDay(dayNumber(period.toOn) + days));
  return (first ?? "") <= today && today <= (last ?? "") ? period : null;
}

/** The day through which a reporting period is counted: its last, or today while it runs. */
export const countedThrough = ({ toOn }: Pick<DateSpan, "toOn">, today: string): string =>
  toOn < today ? toOn : today;
