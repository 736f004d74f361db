import type { DateSpan } from "../dates/date-span.ts";
import type { SchoolCalendar } from "./calendar.ts";

/** A reporting period as a span that can be chosen. */
export interface ReportingSpan {
  /** As it stands in an address: `period-2026-09-08`. */
  key: string;
  /** "Trimester 1", "Trimester 2 so far" */
  words: string;
  from: string;
  /** Its last day; today where it is still running. */
  to: string;
}

/**
 * The reporting periods that have begun, the newest first, the current one among them.
 *
 * @param since those that ended before this day are left out
 */
export function reportingSpans(
  { reportingPeriods }: Pick<SchoolCalendar, "reportingPeriods">,
  today: string,
  since = "",
): ReportingSpan[] {
  return [...reportingPeriods]
    .filter(({ fromOn, toOn }: DateSpan) => fromOn <= today && toOn >= since)
    .sort((a, b) => (a.fromOn < b.fromOn ? 1 : -1))
    .map(({ name, fromOn, toOn }) => ({
      key: `period-${fromOn}`,
      words: toOn >= today ? `${name} so far` : name,
      from: fromOn,
      to: toOn >= today ? today : toOn,
    }));
}
