import type * as z from "zod/mini";
import type { Problems } from "./form-data.ts";

/** One row of a form as it was typed: field → text. */
export type TypedRow = Readonly<Record<string, string>>;

/** Words as the rows of a written list. */
export const rowsOfNames = (names: readonly string[]): { name: string }[] => names.map((name) => ({ name }));

export function rowName(prefix: string, index: number, field: string): string {
  return `${prefix}.${index}.${field}`;
}

/** The rows under a prefix in their order, with the place each had in the form. */
export function rowsIn(
  typed: Readonly<Record<string, string>>,
  prefix: string,
): { index: number; row: TypedRow }[] {
  const rows = new Map<number, Record<string, string>>();
  for (const [name, value] of Object.entries(typed)) {
    const [start, place = "", field = ""] = name.split(".");
    if (start !== prefix || !/^\d{1,4}$/.test(place) || field === "") continue;
    const row = rows.get(Number(place)) ?? {};
    row[field] = value;
    rows.set(Number(place), row);
  }
  return [...rows].sort(([a], [b]) => a - b).map(([index, row]) => ({ index, row }));
}

/**
 * Reads the rows under a prefix by a schema. Rows without any text are left out: ticks alone are no row. Problems come under
 * the names of the fields as they will stand when the form is shown again, row after row.
 */
export function readRows<Schema extends z.ZodMiniType>(
  typed: Readonly<Record<string, string>>,
  prefix: string,
  schema: Schema,
): { values: { place: number; value: z.output<Schema> }[]; problems: Problems } {
  const values: { place: number; value: z.output<Schema> }[] = [];
  const problems: Problems = {};
  rowsIn(typed, prefix).forEach(({ row }, place) => {
    const written = Object.entries(row).some(([field, text]) => !field.startsWith("day") && text.trim());
    if (!written) return;
    const read = schema.safeParse(row);
    if (read.success) values.push({ place, value: read.data });
    else
      for (const { path, message } of read.error.issues)
        problems[rowName(prefix, place, String(path[0] ?? "name"))] ??= message;
  });
  return { values, problems };
}

/** The weekdays ticked in a row, Monday = 1. */
export function tickedDays(row: TypedRow, prefix = "day"): number[] {
  return [1, 2, 3, 4, 5, 6, 7].filter((day) => row[`${prefix}${day}`] === "on");
}

export function dayTicks(weekdays: readonly number[]): TypedRow {
  return Object.fromEntries(weekdays.map((day) => [`day${day}`, "on"]));
}

/** The field that says which rows stood when a list was begun to be changed, by what tells them apart. */
export const standsName = (prefix: string): string => `${prefix}.stood`;

/**
 * What stands by now and neither stood when the list was begun to be changed nor is among what was sent: another person added it in the
 * meantime, and it stays. Without scripts nothing says what stood, and nothing is added.
 *
 * @param idOf what tells one from another
 */
export function addedSince<T>(
  typed: Readonly<Record<string, string>>,
  prefix: string,
  now: readonly T[],
  sent: readonly string[],
  idOf: (one: T) => string,
): T[] {
  const stood = typed[standsName(prefix)]?.split("\n");
  return stood ? now.filter((one) => !stood.includes(idOf(one)) && !sent.includes(idOf(one))) : [];
}
