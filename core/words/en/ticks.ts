import { dateWithYear, monthDay, monthName, monthWithYear } from "../dates.ts";

/** Marks of the time axis of a chart: its first day, a month, a January, a week. Apart from the other words of charts, which a page that zooms needs not. */
export const ticksEn = {
  first: dateWithYear,
  month: monthName,
  january: monthWithYear,
  week: monthDay,
};

/** The marks of a time axis in one language. */
export type TickWords = typeof ticksEn;
