import { weekOf } from "../dates/week.ts";
import { dateOfDay, dayNumber, weekdayOf } from "../dates/day-number.ts";
import { monthDay, shortWeekday } from "../words/dates.ts";
import { countWord, plural } from "../words/numbers.ts";
import { daysInSession, isInSession, mostDaysAhead, type SchoolCalendar } from "./calendar.ts";
import type { Schedule } from "./schedule.ts";

export interface DueData {
  /** How often this week asks for data: never more often than there are days to take them on. */
  asked: number;
  /** On how many days of this week they were taken. */
  taken: number;
  /**
   * - `today`: to be taken today, or the week's number cannot be reached any more
   * - `this week`: still to come, and not only today
   * - `late`: a day that was asked for has gone by, and the week has no other day
   * - `done`: as often as the week asks
   * - `nothing`: no schedule, no school, an absence, or the goal has not begun or has ended
   */
  state: "today" | "this week" | "late" | "done" | "nothing";
}

export interface DueQuestion {
  schedule: Schedule | null;
  calendar: SchoolCalendar;
  /** Days on which the student was absent. */
  absences: readonly string[];
  /** Days on which the goal was measured; those of this week are looked at. */
  measuredOn: readonly string[];
  /** Before this day nothing is asked. */
  startOn: string | null;
  today: string;
}

const weeks = new WeakMap<SchoolCalendar, Map<string, string[]>>();

/** The days in session of a week, worked out once for all goals of a school. */
function weekInSession(calendar: SchoolCalendar, monday: string, sunday: string): string[] {
  const known = weeks.get(calendar) ?? new Map<string, string[]>();
  weeks.set(calendar, known);
  const days = known.get(monday) ?? daysInSession(calendar, monday, sunday);
  known.set(monday, days);
  return days;
}

const none: DueData = { asked: 0, taken: 0, state: "nothing" };

/**
 * Are data due for a goal? A week is Monday to Sunday; days without school and days absent ask for nothing, and what they
 * would have asked for is not moved to other days of that week's number.
 *
 * Source: ours. A measurement on another day of the same week stands for the day it was asked for.
 */
export function dueData({ schedule, calendar, absences, measuredOn, startOn, today }: DueQuestion): DueData {
  if (schedule === null || (startOn !== null && startOn > today)) return none;
  const monday = weekOf(today);
  const sunday = dateOfDay(dayNumber(monday) + 6);
  const present = weekInSession(calendar, monday, sunday).filter(
    (date) => (startOn === null || startOn <= date) && !absences.includes(date),
  );
  const days =
    "weekdays" in schedule ? present.filter((date) => schedule.weekdays.includes(weekdayOf(date))) : present;
  const asked = "weekdays" in schedule ? days.length : Math.min(schedule.perWeek, days.length);
  if (asked === 0) return none;
  const taken = new Set(measuredOn.filter((date) => monday <= date && date <= sunday)).size;
  if (taken >= asked) return { asked, taken, state: "done" };
  const takenToday = measuredOn.includes(today);
  const left = days.filter((date) => date > today || (date === today && !takenToday)).length;
  const missing = asked - taken;
  if (days.includes(today) && !takenToday && ("weekdays" in schedule || missing >= left))
    return { asked, taken, state: "today" };
  return { asked, taken, state: left === 0 ? "late" : "this week" };
}

/** "Due today, 1 of 2 taken this week"; null when nothing is asked. */
export function dueWords({ asked, taken, state }: DueData): string | null {
  if (state === "nothing") return null;
  const count = `${taken} of ${asked} this week`;
  if (state === "today") return `due today, ${count}`;
  if (state === "done") return `${countWord(taken)} ${plural(taken, "day")} of data this week, as planned`;
  return state === "late" ? `${count}, and no planned day is left` : count;
}

/**
 * When data are due next, in two or three words: "due today", "due Thu", "due Jan 7", "due next week".
 *
 * @param due of today
 * @returns null where nothing is asked, or nothing for four weeks
 */
export function nextDueWords(
  { state }: DueData,
  schedule: Schedule | null,
  calendar: SchoolCalendar,
  today: string,
): string | null {
  if (schedule === null) return null;
  if (state === "today") return "due today";
  if (!("weekdays" in schedule))
    return state === "nothing" ? null : state === "this week" ? "due this week" : "due next week";
  for (let ahead = 1; ahead <= mostDaysAhead; ahead += 1) {
    const date = dateOfDay(dayNumber(today) + ahead);
    if (!schedule.weekdays.includes(weekdayOf(date)) || !isInSession(calendar, date)) continue;
    return ahead < 7 ? `due ${shortWeekday(date)}` : `due ${monthDay(date)}`;
  }
  return null;
}

const quietAfterDays = 10;

/**
 * Has a goal gone without a measurement for more than ten days of school, or never been measured? Breaks, closures and
 * days absent do not count, nor do days before the goal was set up.
 *
 * @param last the date of the last measured entry, or null
 * @param setUpOn the day on which the goal was set up, for one that was never measured
 *
 * Source: two school weeks, ours.
 */
export function isQuiet(
  last: string | null,
  today: string,
  calendar: SchoolCalendar,
  absences: readonly string[] = [],
  setUpOn: string | null = null,
): boolean {
  const from = last ?? setUpOn;
  if (from === null) return true;
  let days = 0;
  // Most goals were measured days ago: the walk back ends as soon as enough school days have been seen.
  for (let day = dayNumber(today); day > dayNumber(from) && days <= quietAfterDays; day -= 1) {
    const date = dateOfDay(day);
    if (isInSession(calendar, date) && !absences.includes(date)) days += 1;
  }
  return days > quietAfterDays;
}
