import { groupBy } from "../lists/group-by.ts";
import { weekOf } from "../dates/week.ts";

export interface Occasion {
  date: string;
  value: number;
  numerator: number | null;
  denominator: number | null;
  /** Second figures that a joined criterion names. */
  side?: Readonly<Record<string, number | null>>;
  setting?: string | null;
  personId?: string;
}

export interface PooledOccasion extends Omit<Occasion, "setting" | "personId"> {
  settings: string[];
  people: string[];
}

const mean = (values: readonly number[]) => values.reduce((sum, value) => sum + value, 0) / values.length;
const present = <T>(values: readonly (T | null | undefined)[]) =>
  values.filter((value): value is T => value !== null && value !== undefined);

function pooled(group: readonly Occasion[]): PooledOccasion {
  const counted = group.every((entry) => entry.numerator !== null && entry.denominator !== null);
  const numerator = counted ? group.reduce((sum, entry) => sum + (entry.numerator ?? 0), 0) : null;
  const denominator = counted ? group.reduce((sum, entry) => sum + (entry.denominator ?? 0), 0) : null;
  const figures = Object.keys(group[0]?.side ?? {});
  return {
    date: group.at(-1)?.date ?? "",
    value:
      group.length === 1 || numerator === null || denominator === null
        ? mean(group.map(({ value }) => value))
        : (100 * numerator) / denominator,
    numerator,
    denominator,
    side: Object.fromEntries(
      figures.map((figure) => {
        const found = present(group.map(({ side }) => side?.[figure]));
        return [figure, found.length === group.length ? mean(found) : null];
      }),
    ),
    settings: [...new Set(present(group.map(({ setting }) => setting)))],
    people: [...new Set(present(group.map(({ personId }) => personId)))],
  };
}

/**
 * Pools entries to the unit of the window, so that three probes in one morning are one day: numerators and denominators
 * are added; where a measure has none, the mean of the values stands (a mean of sessions), as for joined figures.
 *
 * @param entries in the order they happened
 * @returns one occasion per session, day or week, dated by its last entry
 */
export function poolOccasions(
  entries: readonly Occasion[],
  unit: "session" | "day" | "week",
): PooledOccasion[] {
  if (unit === "session") return entries.map((entry) => pooled([entry]));
  const groups = groupBy(entries, (entry) => (unit === "day" ? entry.date : weekOf(entry.date)));
  return [...groups.values()].map(pooled);
}
