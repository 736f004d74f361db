import { dayNumber } from "../dates/day-number.ts";
import { interfaceFormats } from "./formats.ts";

/** "Tue, Nov 24" */
export const shortDate = (date: string): string => interfaceFormats().date(date, "short");

/** "Nov 24" */
export const monthDay = (date: string): string => interfaceFormats().date(date, "day");

/** "Nov 24, 2026" */
export const dateWithYear = (date: string): string => interfaceFormats().date(date, "year");

/** "November 24, 2026", as a goal's wording says a date. */
export const fullDate = (date: string): string => interfaceFormats().date(date, "full");

/** "Tuesday, November 24" */
export const longDate = (date: string): string => interfaceFormats().date(date, "long");

/** "Tue, Nov 24, 2026" */
export const shortDateWithYear = (date: string): string => interfaceFormats().date(date, "shortYear");

/** "Tuesday, November 24, 2026" */
export const wholeDate = (date: string): string => interfaceFormats().date(date, "whole");

/** "Nov 2026": the month of a date, `YYYY-MM-DD`. */
export const monthWithYear = (date: string): string => interfaceFormats().date(date, "monthYear");

/** "November": the month of a date, `YYYY-MM-DD`. */
export const fullMonth = (date: string): string => interfaceFormats().date(date, "wholeMonth");

/** "Nov": the month of a date, `YYYY-MM-DD`. */
export const monthName = (date: string): string => interfaceFormats().date(date, "month");

/** "Tue": the weekday of a date, `YYYY-MM-DD`. */
export const shortWeekday = (date: string): string => interfaceFormats().date(date, "weekday");

/** "1:20 PM", from `HH:MM`; what is no time is left as it is. */
export const timeOfDay = (time: string): string =>
  /^(?:[01]\d|2[0-3]):[0-5]\d$/.test(time) ? interfaceFormats().time(time) : time;

/** "9:10–9:50 AM", "11:30 AM–12:15 PM", from two times. */
export function timeSpan(from: string, to: string): string {
  const [start, end] = [timeOfDay(from), timeOfDay(to)];
  const half = (text: string) => /\u00a0.*$/.exec(text)?.[0];
  const shared = half(start) === half(end) && half(start);
  return `${shared ? start.slice(0, -shared.length) : start}–${end}`;
}

/** "today", "yesterday", "5 days ago"; in school terms a date ahead is "in 5 days". */
export function daysAgo(date: string, today: string): string {
  const days = dayNumber(today) - dayNumber(date);
  if (days === 0) return "today";
  if (days === 1) return "yesterday";
  if (days === -1) return "tomorrow";
  return days > 0 ? `${days} days ago` : `in ${-days} days`;
}
