import { groupBy } from "../group-by.ts";
import { dateOfDay, dayNumber } from "../progress/day-number.ts";

export interface Occasion {
  date: string;
  value: number;
  numerator: number | null;
  denominator: number | null;
}

/** The Monday of a date's week, so that all days of one week share a name. */
function weekOf(date: string): string {
  const day = dayNumber(date);
  return dateOfDay(day - ((((day + 3) % 7) + 7) % 7));
}

/**
 * Pools entries to the unit of the window, so that three probes in one morning are one day: numerators and denominators
 * are added; where a measure has none, the mean of the values stands (a mean of sessions).
 *
 * @param entries in the order they happened
 * @returns one occasion per session, day or week, dated by its last entry
 */
export function poolOccasions(entries: readonly Occasion[], unit: "session" | "day" | "week"): Occasion[] {
  if (unit === "session") return [...entries];
  const groups = groupBy(entries, (entry) => (unit === "day" ? entry.date : weekOf(entry.date)));
  return [...groups.values()].map((group) => {
    const date = group.at(-1)?.date ?? "";
    if (group.some((entry) => entry.numerator === null || entry.denominator === null)) {
      return {
        date,
        value: group.reduce((sum, entry) => sum + entry.value, 0) / group.length,
        numerator: null,
        denominator: null,
      };
    }
    const numerator = group.reduce((sum, entry) => sum + (entry.numerator ?? 0), 0);
    const denominator = group.reduce((sum, entry) => sum + (entry.denominator ?? 0), 0);
    return { date, value: (100 * numerator) / denominator, numerator, denominator };
  });
}
