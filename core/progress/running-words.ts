import { dateOfDay, dayNumber, weekdayOf } from "../dates/day-number.ts";
import type { GoalSetup } from "../model/goal.ts";
import { daysInSession, type SchoolCalendar } from "../schedule/calendar.ts";
import { unitOf } from "../measures/measure.ts";
import { figure, shownValue } from "../words/amounts.ts";
import { fullMonth } from "../words/dates.ts";
import { countWord, counts, plural } from "../words/numbers.ts";
import { type GoalSeries, periodEnd } from "./points.ts";

type Period = "week" | "month";

/** "20 of 300 minutes" */
const towards = (value: number, { target, unit }: { target: number; unit: string }) =>
  `${counts(shownValue(value, ""), target)} ${unit}`;

/** "November", "This week", "Last week" */
const nameOf = (per: Period, date: string, isThis: boolean) =>
  per === "month" ? fullMonth(date) : isThis ? "This week" : "Last week";

/** The last day of the period before. */
function dayBefore(date: string, per: Period): string {
  const first = per === "month" ? `${date.slice(0, 8)}01` : dateOfDay(dayNumber(date) - weekdayOf(date) + 1);
  return dateOfDay(dayNumber(first) - 1);
}

/**
 * Where a period that is still running stands: of a total towards a target this period and the one before, of anything else that is pooled to
 * a day, week or month what has come together so far.
 *
 * @returns null where nothing runs
 *
 * @example "November: 270 of 300 minutes, four school days left. October: 230 of 300 minutes."
 */
export function runningWords(
  { measure }: Pick<GoalSetup, "measure">,
  { all, unit: per }: GoalSeries,
  { today, calendar }: { today: string; calendar: SchoolCalendar },
): string | null {
  if (measure.kind === "running-total") {
    if (all.length === 0) return null;
    const { startsAgain } = measure;
    if (startsAgain === undefined) return `${towards(all.at(-1)?.value ?? 0, measure)} so far.`;
    const sumOf = (end: string) =>
      all
        .filter(({ date }) => periodEnd(date, startsAgain) === end)
        .reduce((sum, { value }) => sum + (value ?? 0), 0);
    const end = periodEnd(today, startsAgain);
    const left = end > today ? daysInSession(calendar, dateOfDay(dayNumber(today) + 1), end).length : 0;
    const days = left === 0 ? "no school day left" : `${countWord(left)} school ${plural(left, "day")} left`;
    const before = dayBefore(today, startsAgain);
    const hasBefore = (all[0]?.date ?? today) <= before;
    return [
      `${nameOf(startsAgain, today, true)}: ${towards(sumOf(end), measure)}, ${days}.`,
      hasBefore ? `${nameOf(startsAgain, before, false)}: ${towards(sumOf(before), measure)}.` : "",
    ]
      .filter(Boolean)
      .join(" ");
  }
  const last = all.at(-1);
  if (!last?.isOpen || last.value === null || per === "session") return null;
  const when = per === "day" ? "Today" : `This ${per}`;
  return `${when} so far: ${figure(last.value, unitOf(measure))}. It counts when the ${per} is over.`;
}
