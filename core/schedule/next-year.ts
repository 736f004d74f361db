import type { DateSpan } from "../dates/date-span.ts";
import { dateOfDay, dayNumber } from "../dates/day-number.ts";

/** So many days later is the same weekday of the next year. */
const fiftyTwoWeeks = 364;

/** A date 52 weeks later: the same weekday. */
export const sameWeekdayNextYear = (date: string): string => dateOfDay(dayNumber(date) + fiftyTwoWeeks);

/** "2026–27" becomes "2027–28", "School year 2026" becomes "School year 2027"; other numbers stay. */
export const nameOfNextYear = (name: string): string =>
  name.replace(
    /\b(20\d{2})(?:(\s*[-–/]\s*)(\d{2}|20\d{2}))?(?!\d)/g,
    (_, from: string, between?: string, to?: string) => {
      const next = String(Number(from) + 1);
      if (between === undefined || to === undefined) return next;
      return `${next}${between}${String(Number(to) + 1).padStart(2, "0")}`;
    },
  );

/** A school year with what lies in it. */
export interface YearDraft extends DateSpan {
  closures: DateSpan[];
  reportingPeriods: DateSpan[];
}

/**
 * A first draft of the school year after one: every date 52 weeks later, on the same weekday. Holidays that are bound to a date move, and are
 * looked through afterwards.
 */
export function draftOfNextYear({ name, fromOn, toOn, closures, reportingPeriods }: YearDraft): YearDraft {
  const move = (span: DateSpan): DateSpan => ({
    name: nameOfNextYear(span.name),
    fromOn: sameWeekdayNextYear(span.fromOn),
    toOn: sameWeekdayNextYear(span.toOn),
  });
  return {
    ...move({ name, fromOn, toOn }),
    closures: closures.map(move),
    reportingPeriods: reportingPeriods.map(move),
  };
}

/** The grade after a grade: "K" becomes "1", "4" becomes "5". The twelfth, and what is no number, stays. */
export function nextGrade(grade: string): string {
  if (/^k$/i.test(grade.trim())) return "1";
  return /^\d{1,2}$/.test(grade.trim()) && Number(grade) < 12 ? String(Number(grade) + 1) : grade;
}

/** Spans of a draft that lie within the dates of a year that were changed since: those that do not are left out. */
export const withinYear = (spans: readonly DateSpan[], year: Pick<DateSpan, "fromOn" | "toOn">): DateSpan[] =>
  spans.filter(({ fromOn, toOn }) => year.fromOn <= fromOn && toOn <= year.toOn);
