import { v7 as newId } from "uuid";
import { starterLadders } from "#core/measures/starter-ladders.ts";
import type { Scope } from "../access/scope.ts";

export type ListName = "area" | "setting";

/** The school's own words for areas of goals, or for settings, in its order. */
export async function listItems({ trx, schoolId }: Scope, list: ListName): Promise<string[]> {
  const { rows } = await trx.raw<{ rows: { name: string }[] }>(
    "select name from school_lists where school_id = ? and list = ? order by position, name",
    [schoolId, list],
  );
  return rows.map(({ name }) => name);
}

/** Saves a list in this order. Entries and goals keep the words they have. */
export async function replaceItems(
  { trx, schoolId }: Scope,
  list: ListName,
  names: readonly string[],
): Promise<void> {
  await trx.raw("delete from school_lists where school_id = ? and list = ?", [schoolId, list]);
  const rows = [...new Set(names)].map((name, position) => ({
    school_id: schoolId,
    list,
    item_id: newId(),
    name,
    position,
  }));
  if (rows.length > 0) await trx("school_lists").insert(rows);
}

/** A prompt ladder of the school: levels from least to most help, the first independent, and the misses beside them. */
export interface SchoolLadder {
  ladderId: string;
  name: string;
  levels: string[];
  misses: string[];
}

/** The school's prompt ladders in its order; until it has any, the starters. */
export async function listLadders({ trx, schoolId }: Scope): Promise<SchoolLadder[]> {
  const { rows } = await trx.raw<{
    rows: { ladder_id: string; name: string; levels: string[]; misses: string[] }[];
  }>(
    `select ladder_id, name, levels, misses from ladders
     where school_id = ? and retired_on is null order by position, name`,
    [schoolId],
  );
  if (rows.length === 0)
    return starterLadders.map(({ name, levels, misses }) => ({
      ladderId: name,
      name: `${name} (to start from)`,
      levels: [...levels],
      misses: [...misses],
    }));
  return rows.map(({ ladder_id, ...row }) => ({ ladderId: ladder_id, ...row }));
}

/** Saves a ladder, new or changed. Goals that use it keep the levels they were set up with. */
export async function saveLadder({ trx, schoolId }: Scope, ladder: SchoolLadder): Promise<void> {
  await trx.raw(
    `insert into ladders (school_id, ladder_id, name, levels, misses, position)
     values (:schoolId, :ladderId, :name, :levels, :misses,
       (select coalesce(max(position), 0) + 1 from ladders where school_id = :schoolId))
     on conflict (school_id, ladder_id) do update
       set name = excluded.name, levels = excluded.levels, misses = excluded.misses, retired_on = null`,
    {
      schoolId,
      ladderId: ladder.ladderId,
      name: ladder.name,
      levels: JSON.stringify(ladder.levels),
      misses: JSON.stringify(ladder.misses),
    },
  );
}

/** Takes a ladder out of the list from this day on; goals that use it keep it. */
export async function retireLadder({ trx, schoolId }: Scope, ladderId: string, today: string): Promise<void> {
  await trx.raw("update ladders set retired_on = ? where school_id = ? and ladder_id = ?", [
    today,
    schoolId,
    ladderId,
  ]);
}
