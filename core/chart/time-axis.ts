import { dateOfDay } from "../dates/day-number.ts";
import { monthDay, monthName } from "../words/dates.ts";

export interface TimeTick {
  day: number;
  label: string;
}

/** Up to so many days the weeks are marked, beyond it the months. */
const mostDaysInWeeks = 70;

const monday = (day: number) => (((day + 3) % 7) + 7) % 7 === 0;

/** The marks along a time axis to scale: its first day, then the first of each month or, on a short one, each Monday. */
export function timeTicks(fromDay: number, toDay: number): TimeTick[] {
  const short = toDay - fromDay <= mostDaysInWeeks;
  const ticks = [{ day: fromDay, label: monthDay(dateOfDay(fromDay)) }];
  const room = (toDay - fromDay) / 14;
  for (let day = fromDay + 1; day <= toDay; day += 1) {
    const date = dateOfDay(day);
    if (!(short ? monday(day) : date.endsWith("-01"))) continue;
    if (day - (ticks.at(-1)?.day ?? 0) > room)
      ticks.push({ day, label: short ? monthDay(date) : monthName(date) });
  }
  return ticks;
}
