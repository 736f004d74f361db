import { dateWithYear, monthDay, timeOfDay } from "#core/words/dates.ts";

/** A moment of the school, `YYYY-MM-DDTHH:MM`, in words: "Nov 30, 2026, 8:02 AM". */
export const momentWords = (moment: string): string =>
  `${dateWithYear(moment.slice(0, 10))}, ${timeOfDay(moment.slice(11, 16))}`;

/** The same without the year, as in a list of the last weeks: "Nov 30, 8:02 AM". */
export const shortMomentWords = (moment: string): string =>
  `${monthDay(moment.slice(0, 10))}, ${timeOfDay(moment.slice(11, 16))}`;
