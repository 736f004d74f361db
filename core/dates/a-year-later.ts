import { addYears, formatISO, parseISO } from "date-fns";

/** The same date so many years later; 29 February becomes the 28th in a year that has none. */
export function yearsLater(date: string, years: number): string {
  return formatISO(addYears(parseISO(date), years), { representation: "date" });
}

/** The same date a year later. */
export const aYearLater = (date: string): string => yearsLater(date, 1);
