import { timeSpan } from "../words/dates.ts";
import { weekdayOf } from "../dates/day-number.ts";
import { groupBy } from "../lists/group-by.ts";
import { weekdayName } from "../dates/week.ts";

/** A time of one weekday (Monday = 1); times are the school's, `HH:MM`, the end not included. */
export interface Meeting {
  weekday: number;
  startsAt: string;
  endsAt: string;
}

/** A named period of one weekday. */
export interface TimetableSlot extends Meeting {
  name: string;
}

/**
 * The period of the school's timetable in which something happened.
 *
 * @param time `HH:MM` on that date, in the school's time zone
 * @returns its name, or null between periods; where two overlap, the one that began last
 */
export function periodAt(timetable: readonly TimetableSlot[], date: string, time: string): string | null {
  const weekday = weekdayOf(date);
  const running = timetable
    .filter((slot) => slot.weekday === weekday && slot.startsAt <= time && time < slot.endsAt)
    .sort((a, b) => (a.startsAt < b.startsAt ? 1 : a.startsAt > b.startsAt ? -1 : 0));
  return running[0]?.name ?? null;
}

/** The same name and times on several weekdays: how a person writes a week down. */
export interface WeeklyRow {
  name: string;
  weekdays: number[];
  startsAt: string;
  endsAt: string;
}

/** Slots of one name and time together, in the order of their times. */
export function weeklyRows(slots: readonly TimetableSlot[]): WeeklyRow[] {
  const rows = groupBy(slots, ({ name, startsAt, endsAt }) => `${startsAt} ${endsAt} ${name}`);
  return [...rows]
    .sort(([a], [b]) => (a < b ? -1 : 1))
    .flatMap(([, [first, ...more]]) =>
      first
        ? [{ ...first, weekdays: [first, ...more].map(({ weekday }) => weekday).sort((a, b) => a - b) }]
        : [],
    )
    .map(({ name, weekdays, startsAt, endsAt }) => ({ name, weekdays, startsAt, endsAt }));
}

/** The other way round: one slot for each weekday of each row. */
export function slotsOf(rows: readonly WeeklyRow[]): TimetableSlot[] {
  return rows.flatMap(({ weekdays, ...row }) => weekdays.map((weekday) => ({ ...row, weekday })));
}

/** "Mon, Thu 10:15–10:45; Fri 09:00–09:30" */
export function meetingWords(meets: readonly Meeting[]): string {
  return weeklyRows(meets.map((meeting) => ({ ...meeting, name: "" })))
    .map(
      ({ weekdays, startsAt, endsAt }) =>
        `${weekdays.map((weekday) => weekdayName(weekday).slice(0, 3)).join(", ")} ${timeSpan(startsAt, endsAt)}`,
    )
    .join("; ");
}
