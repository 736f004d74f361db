import { dayNumber } from "../dates/day-number.ts";

// Ours: `Intl` names months differently from browser to browser ("Sep", "Sept"), so that a page would not be drawn as the server drew it;
// the names of `date-fns` are the same everywhere and cost 7 kB on each page (measured, gzipped).
const weekdays = ["Thursday", "Friday", "Saturday", "Sunday", "Monday", "Tuesday", "Wednesday"];
const months = [
  "January",
  "February",
  "March",
  "April",
  "May",
  "June",
  "July",
  "August",
  "September",
  "October",
  "November",
  "December",
];

function parts(date: string) {
  const weekday = weekdays[((dayNumber(date) % 7) + 7) % 7] ?? "";
  const month = months[Number(date.slice(5, 7)) - 1] ?? "";
  return { weekday, month, day: Number(date.slice(8, 10)), year: date.slice(0, 4) };
}

/** "Tue 24 Nov": the same in every browser and on the server, since the names are ours. */
export function shortDate(date: string): string {
  const { weekday, day, month } = parts(date);
  return `${weekday.slice(0, 3)} ${day} ${month.slice(0, 3)}`;
}

/** "24 Nov 2026" */
export function dateWithYear(date: string): string {
  const { day, month, year } = parts(date);
  return `${day} ${month.slice(0, 3)} ${year}`;
}

/** "24 November 2026", as a goal's wording says a date. */
export function fullDate(date: string): string {
  const { day, month, year } = parts(date);
  return `${day} ${month} ${year}`;
}

/** "Tuesday 24 November" */
export function longDate(date: string): string {
  const { weekday, day, month } = parts(date);
  return `${weekday} ${day} ${month}`;
}

/** "November": the month of a date, `YYYY-MM-DD`. */
export const fullMonth = (date: string): string => parts(date).month;

/** "Nov": the month of a date, `YYYY-MM-DD`. */
export function monthName(date: string): string {
  return parts(date).month.slice(0, 3);
}

/** "today", "yesterday", "5 days ago"; in school terms a date ahead is "in 5 days". */
export function daysAgo(date: string, today: string): string {
  const days = dayNumber(today) - dayNumber(date);
  if (days === 0) return "today";
  if (days === 1) return "yesterday";
  if (days === -1) return "tomorrow";
  return days > 0 ? `${days} days ago` : `in ${-days} days`;
}
