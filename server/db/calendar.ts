import { v7 as newId } from "uuid";
import type { SchoolCalendar } from "#core/schedule/calendar.ts";
import type { DateSpan } from "#core/dates/date-span.ts";
import type { TimetableSlot } from "#core/schedule/timetable.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { contentTag } from "./content-tag.ts";
import { recordEvent } from "./events.ts";

export interface SchoolYear extends DateSpan {
  yearId: string;
}

export interface KeptCalendar extends SchoolCalendar {
  years: SchoolYear[];
}

interface SpanRow {
  name: string;
  from_on: string;
  to_on: string;
}

const toSpan = ({ name, from_on, to_on }: SpanRow): DateSpan => ({ name, fromOn: from_on, toOn: to_on });

/** The whole calendar of the school, every year of it, in the order of its dates. */
export async function readCalendar({ trx, schoolId }: Scope): Promise<KeptCalendar> {
  const spans = (table: string, id: string) =>
    `coalesce((select jsonb_agg(jsonb_build_object('name', name, 'from_on', from_on, 'to_on', to_on${id}) order by from_on, name)
      from ${table} where school_id = sc.school_id), '[]')`;
  const { rows } = await trx.raw<{
    rows: {
      school_days: number[];
      years: (SpanRow & { year_id: string })[];
      closures: SpanRow[];
      periods: SpanRow[];
    }[];
  }>(
    `select sc.school_days, ${spans("school_years", ", 'year_id', year_id")} as years,
       ${spans("closures", "")} as closures, ${spans("reporting_periods", "")} as periods
     from schools sc where sc.school_id = ?`,
    [schoolId],
  );
  const row = rows[0];
  return {
    schoolDays: row?.school_days ?? [1, 2, 3, 4, 5],
    years: (row?.years ?? []).map((year) => ({ ...toSpan(year), yearId: year.year_id })),
    closures: (row?.closures ?? []).map(toSpan),
    reportingPeriods: (row?.periods ?? []).map(toSpan),
  };
}

export interface YearContent extends SchoolYear {
  schoolDays: number[];
  closures: DateSpan[];
  reportingPeriods: DateSpan[];
}

/** One year of a calendar as its page shows it: its own dates, and the closures and reporting periods that begin in it. */
export function yearContent(calendar: KeptCalendar, year: SchoolYear): YearContent {
  const within = ({ fromOn }: DateSpan) => year.fromOn <= fromOn && fromOn <= year.toOn;
  return {
    ...year,
    schoolDays: [...calendar.schoolDays],
    closures: calendar.closures.filter(within),
    reportingPeriods: calendar.reportingPeriods.filter(within),
  };
}

/**
 * Saves a school year with its closures and reporting periods.
 *
 * @param seen the tag of what the person saw when they began; null for a year that was not there
 */
export async function saveYear(
  scope: PersonScope,
  content: YearContent,
  seen: string | null,
): Promise<"saved" | "conflict"> {
  requirePermission(scope, "school.edit");
  const { trx, schoolId } = scope;
  // Two people at once take turns: the school's row is the lock.
  await trx.raw("select 1 from schools where school_id = ? for update", [schoolId]);
  const calendar = await readCalendar(scope);
  const before = calendar.years.find(({ yearId }) => yearId === content.yearId) ?? null;
  if (seen !== (before && contentTag(yearContent(calendar, before)))) return "conflict";
  const key = { school_id: schoolId };
  await trx("schools").where(key).update({ school_days: content.schoolDays });
  await trx("school_years")
    .insert({
      ...key,
      year_id: content.yearId,
      name: content.name,
      from_on: content.fromOn,
      to_on: content.toOn,
    })
    .onConflict(["school_id", "year_id"])
    .merge(["name", "from_on", "to_on"]);
  for (const [table, idColumn, spans] of [
    ["closures", "closure_id", content.closures],
    ["reporting_periods", "period_id", content.reportingPeriods],
  ] as const) {
    for (const { fromOn, toOn } of before ? [before, content] : [content])
      await trx(table).where(key).whereBetween("from_on", [fromOn, toOn]).delete();
    const rows = spans.map(({ name, fromOn, toOn }) => ({
      ...key,
      [idColumn]: newId(),
      name,
      from_on: fromOn,
      to_on: toOn,
    }));
    if (rows.length > 0) await trx(table).insert(rows);
  }
  await recordEvent(scope, { act: "saved", thing: "school year", thingId: content.yearId, studentId: null });
  return "saved";
}

/** The periods of the school's week, by their start; times are `HH:MM`. */
export async function readTimetable({ trx, schoolId }: Scope): Promise<TimetableSlot[]> {
  const { rows } = await trx.raw<{
    rows: { weekday: number; name: string; starts_at: string; ends_at: string }[];
  }>(
    `select weekday, name, to_char(starts_at, 'HH24:MI') as starts_at, to_char(ends_at, 'HH24:MI') as ends_at
     from timetable where school_id = ? order by starts_at, ends_at, name, weekday`,
    [schoolId],
  );
  return rows.map(({ starts_at, ends_at, ...row }) => ({ ...row, startsAt: starts_at, endsAt: ends_at }));
}

/** Saves the whole timetable; `seen` is the tag of the slots the person began with. */
export async function replaceTimetable(
  scope: PersonScope,
  slots: readonly TimetableSlot[],
  seen: string,
): Promise<"saved" | "conflict"> {
  requirePermission(scope, "school.edit");
  const { trx, schoolId } = scope;
  await trx.raw("select 1 from schools where school_id = ? for update", [schoolId]);
  if (contentTag(await readTimetable(scope)) !== seen) return "conflict";
  await trx("timetable").where({ school_id: schoolId }).delete();
  const rows = slots.map(({ weekday, name, startsAt, endsAt }) => ({
    school_id: schoolId,
    slot_id: newId(),
    weekday,
    name,
    starts_at: startsAt,
    ends_at: endsAt,
  }));
  if (rows.length > 0) await trx("timetable").insert(rows);
  await recordEvent(scope, { act: "saved", thing: "timetable", thingId: null, studentId: null });
  return "saved";
}
