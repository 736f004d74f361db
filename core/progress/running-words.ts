import { dateOfDay, dayNumber, weekdayOf } from "../dates/day-number.ts";
import type { GoalSetup } from "../model/goal.ts";
import { daysInSession, type SchoolCalendar } from "../schedule/calendar.ts";
import { unitOf } from "../measures/measure.ts";
import { shownValue } from "../words/amounts.ts";
import { type ProgressWords, progressEn } from "../words/en/progress.ts";
import { type GoalSeries, periodEnd } from "./points.ts";

type Period = "week" | "month";

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
  words: ProgressWords = progressEn,
): string | null {
  if (measure.kind === "running-total") {
    if (all.length === 0) return null;
    const { startsAgain, target, unit } = measure;
    if (startsAgain === undefined)
      return words.totalSoFar(shownValue(all.at(-1)?.value ?? 0, ""), target, unit);
    const sumOf = (end: string) =>
      all
        .filter(({ date }) => periodEnd(date, startsAgain) === end)
        .reduce((sum, { value }) => sum + (value ?? 0), 0);
    const ofPeriod = (on: string) => ({
      ...{ period: startsAgain, on, target, unit },
      total: shownValue(sumOf(periodEnd(on, startsAgain)), ""),
    });
    const end = periodEnd(today, startsAgain);
    const daysLeft = end > today ? daysInSession(calendar, dateOfDay(dayNumber(today) + 1), end).length : 0;
    const before = dayBefore(today, startsAgain);
    const hasBefore = (all[0]?.date ?? today) <= before;
    return [
      words.totalThisPeriod({ ...ofPeriod(today), daysLeft }),
      hasBefore ? words.totalLastPeriod(ofPeriod(before)) : "",
    ]
      .filter(Boolean)
      .join(" ");
  }
  const last = all.at(-1);
  if (!last?.isOpen || last.value === null || per === "session") return null;
  return words.runningPeriod(per, last.value, unitOf(measure));
}
