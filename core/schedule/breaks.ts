import { dateOfDay, dayNumber, weekdayOf } from "../dates/day-number.ts";
import type { SchoolCalendar } from "./calendar.ts";
import type { DateSpan } from "../dates/date-span.ts";

/** A school week without school: fewer days off are no break. */
const fewestDays = 5;

/** Asked for by every goal of a report: the same calendar has the same breaks. */
const breaksOf = new WeakMap<SchoolCalendar, readonly DateSpan[]>();

/**
 * The breaks of a school: closures of at least five days on which there would have been school, and the time between two years.
 *
 * @returns in order of their first day
 */
export function schoolBreaks(calendar: SchoolCalendar): readonly DateSpan[] {
  const known = breaksOf.get(calendar) ?? findBreaks(calendar);
  breaksOf.set(calendar, known);
  return known;
}

function findBreaks({ closures, years, schoolDays }: SchoolCalendar): DateSpan[] {
  const daysOff = ({ fromOn, toOn }: DateSpan) => {
    let days = 0;
    for (let day = dayNumber(fromOn); day <= dayNumber(toOn); day += 1)
      if (schoolDays.includes(weekdayOf(dateOfDay(day)))) days += 1;
    return days;
  };
  const inOrder = [...years].sort((a, b) => (a.fromOn < b.fromOn ? -1 : 1));
  const between = inOrder.slice(1).flatMap((year, at) => {
    const before = inOrder[at];
    if (!before || before.toOn >= year.fromOn) return [];
    return [
      {
        name: "the time between two school years",
        fromOn: dateOfDay(dayNumber(before.toOn) + 1),
        toOn: dateOfDay(dayNumber(year.fromOn) - 1),
      },
    ];
  });
  return [...closures, ...between]
    .filter((span) => span.fromOn <= span.toOn && daysOff(span) >= fewestDays)
    .sort((a, b) => (a.fromOn < b.fromOn ? -1 : 1));
}
