import { dateWithYear, monthDay, monthName, monthWithYear } from "../dates.ts";

/** Marks of the time axis of a chart: its first day, a month, a January, a week. Apart from the other words of charts, which a page that zooms needs not. */
export const ticksEn = {
  first: (on: string) => dateWithYear(on),
  month: (on: string) => monthName(on),
  january: (on: string) => monthWithYear(on),
  week: (on: string) => monthDay(on),
};

/** The marks of a time axis in one language. */
export type TickWords = typeof ticksEn;
