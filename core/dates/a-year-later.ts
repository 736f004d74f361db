import { addYears, formatISO, parseISO } from "date-fns";

/** The same date a year later; 29 February becomes the 28th. */
export function aYearLater(date: string): string {
  return formatISO(addYears(parseISO(date), 1), { representation: "date" });
}
