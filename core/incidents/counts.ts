import { weekdayOf } from "../dates/day-number.ts";
import { type Aspect, type LabelledIncident, labelsOf } from "./labelled-incident.ts";

/** Label → number of incidents, the most frequent first. */
export type Counts = Record<string, number>;

function countKeys<Key extends string | number>(keys: Iterable<Key>): Map<Key, number> {
  const counted = new Map<Key, number>();
  for (const key of keys) counted.set(key, (counted.get(key) ?? 0) + 1);
  return counted;
}

/** How many incidents carry each label of an aspect: an incident counts once under each of its labels. Ties by name. */
export function countLabels(incidents: readonly LabelledIncident[], aspect: Aspect): Counts {
  const counted = countKeys(incidents.flatMap((incident) => [...labelsOf(incident, aspect)]));
  return Object.fromEntries([...counted].sort(([a, m], [b, n]) => n - m || (a < b ? -1 : 1)));
}

const inOrder = <Key extends string | number>(counted: Map<Key, number>): Counts =>
  Object.fromEntries([...counted].sort(([a], [b]) => (a < b ? -1 : 1)));

/** The hour, 0 to 23, of a time `HH:MM`. */
export const hourOf = (at: string): number => Number(at.slice(0, 2));

/** Incidents by month (`YYYY-MM`), in order. */
export const countMonths = (incidents: readonly LabelledIncident[]): Counts =>
  inOrder(countKeys(incidents.map(({ on }) => on.slice(0, 7))));

/** Incidents by weekday, Monday = 1 … Sunday = 7. */
export const countWeekdays = (incidents: readonly LabelledIncident[]): Counts =>
  inOrder(countKeys(incidents.map(({ on }) => weekdayOf(on))));

/** Incidents by the hour in which they began, 0–23; those without a time are left out. */
export const countHours = (incidents: readonly LabelledIncident[]): Counts =>
  inOrder(countKeys(incidents.flatMap(({ at }) => (at === null ? [] : [hourOf(at)]))));

/**
 * The time-by-weekday grid: how many incidents began in each hour of each weekday, cells with any, in order.
 *
 * @returns `[weekday 1–7, hour 0–23, incidents]`; incidents without a time are left out
 *
 * Source: Touchette, P. E., MacDonald, R. F., & Langer, S. N. (1985). A scatter plot for identifying stimulus control of
 * problem behavior. Journal of Applied Behavior Analysis, 18, 343–351.
 */
export function timeGrid(
  incidents: readonly LabelledIncident[],
): [weekday: number, hour: number, count: number][] {
  const cells = countKeys(
    incidents.flatMap(({ on, at }) => (at === null ? [] : [weekdayOf(on) * 24 + hourOf(at)])),
  );
  return [...cells]
    .sort(([a], [b]) => a - b)
    .map(([cell, count]) => [Math.floor(cell / 24), cell % 24, count]);
}
