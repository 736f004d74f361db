import * as z from "zod/mini";
import type { WeeklyRow } from "#core/schedule/timetable.ts";
import { type Problems, typedTime } from "#app/ui/form-data.ts";
import { dayTicks, readRows, rowName, tickedDays, type TypedRow } from "#app/ui/typed-rows.ts";

const slotRow = z.pipe(
  z.looseObject({
    name: z._default(z.string().check(z.trim(), z.maxLength(60, "At most 60 characters.")), ""),
    startsAt: typedTime("Give a time."),
    endsAt: typedTime("Give a time."),
  }),
  z.transform((row): WeeklyRow => ({
    name: row.name,
    startsAt: row.startsAt,
    endsAt: row.endsAt,
    weekdays: tickedDays(row as unknown as TypedRow),
  })),
);

/** Rows of a week as they were typed: weekdays ticked, from, to, and a name where each row has one. */
export function readWeek(
  typed: Readonly<Record<string, string>>,
  prefix: string,
  { named }: { named: boolean },
): { rows: WeeklyRow[]; problems: Problems } {
  const { values, problems } = readRows(typed, prefix, slotRow);
  for (const { place, value } of values) {
    if (named && value.name === "") problems[rowName(prefix, place, "name")] ??= "Give it a name.";
    if (value.endsAt <= value.startsAt)
      problems[rowName(prefix, place, "endsAt")] ??= "It ends before it begins.";
    if (value.weekdays.length === 0)
      problems[rowName(prefix, place, "startsAt")] ??= "Tick at least one weekday.";
  }
  return { rows: values.map(({ value }) => value), problems };
}

export function typedWeek(rows: readonly WeeklyRow[]): TypedRow[] {
  return rows.map(({ weekdays, ...row }) => ({ ...row, ...dayTicks(weekdays) }));
}
