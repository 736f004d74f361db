import { dateOfDay, dayNumber } from "../dates/day-number.ts";
import { fewestStudents } from "./fewest-students.ts";

/** A span over which the incidents of a school are counted without names: whole months, both days included. */
export interface SchoolSpan {
  from: string;
  to: string;
}

const monthOf = (date: string) => date.slice(0, 7);
/** The first day of the month after that of a date. */
const nextMonth = (date: string) => `${monthOf(dateOfDay(dayNumber(`${monthOf(date)}-28`) + 4))}-01`;

/**
 * The only spans over which a school's incidents are counted without names. Each begins where the one before ended, and ends with the
 * first month by whose end five students had an incident since. No two overlap and none ends today, so that nothing can be told
 * of one student by taking the counts of one span from those of another, or today's from yesterday's.
 *
 * That counts are kept from being subtracted is common practice where school data is given out; months and five students are ours.
 *
 * @param incidents all of the school, in any order: each the day (`YYYY-MM-DD`) and the student
 * @param today the school's date: its month is not over and is in no span
 * @returns oldest first; empty where no month is over by whose end five students had an incident
 */
export function schoolSpans(
  incidents: readonly { on: string; studentId: string }[],
  today: string,
): SchoolSpan[] {
  const days = incidents.map(({ on }) => on).sort();
  const first = days[0];
  if (first === undefined) return [];
  const spans: SchoolSpan[] = [];
  let from = `${monthOf(first)}-01`;
  for (let end = nextMonth(from); end <= today; end = nextMonth(end)) {
    const began = from;
    const students = new Set(
      incidents.flatMap(({ on, studentId }) => (began <= on && on < end ? [studentId] : [])),
    );
    if (students.size < fewestStudents) continue;
    spans.push({ from, to: dateOfDay(dayNumber(end) - 1) });
    from = end;
  }
  return spans;
}
