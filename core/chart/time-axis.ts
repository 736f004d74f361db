import { dateOfDay } from "../dates/day-number.ts";
import { ticksEn, type TickWords } from "../words/en/ticks.ts";

export interface TimeTick {
  day: number;
  label: string;
}

/** Up to so many days the weeks are marked, beyond it the months. */
const mostDaysInWeeks = 70;

const monday = (day: number) => (((day + 3) % 7) + 7) % 7 === 0;

/**
 * The marks along a time axis to scale: its first day, then the first of each month or, on a short one, each Monday. The first says the
 * year, and so does January.
 */
export function timeTicks(fromDay: number, toDay: number, says: TickWords = ticksEn): TimeTick[] {
  const short = toDay - fromDay <= mostDaysInWeeks;
  const ticks = [{ day: fromDay, label: says.first(dateOfDay(fromDay)) }];
  const room = (toDay - fromDay) / 14;
  for (let day = fromDay + 1; day <= toDay; day += 1) {
    const date = dateOfDay(day);
    if (!(short ? monday(day) : date.endsWith("-01"))) continue;
    // The first label is the longest.
    if (day - (ticks.at(-1)?.day ?? 0) <= (ticks.length === 1 ? 1.6 * room : room)) continue;
    const month = date.slice(5, 7) === "01" ? says.january : says.month;
    ticks.push({ day, label: (short ? says.week : month)(date) });
  }
  return ticks;
}
