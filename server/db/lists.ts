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
      name,
      levels: [...levels],
      misses: [...misses],
    }));
  return rows.map(({ ladder_id, ...row }) => ({ ladderId: ladder_id, ...row }));
}

/**
 * Saves the school's ladders in this order, new ones and changed ones, and offers the retired ones no longer. Goals keep the levels they
 * were set up with.
 */
export async function replaceLadders(
  { trx, schoolId, today }: Scope,
  ladders: readonly SchoolLadder[],
  retired: readonly string[],
): Promise<void> {
  await trx.raw(
    `insert into ladders (school_id, ladder_id, name, levels, misses, position)
     select :schoolId, r.ladder_id, r.name, r.levels, r.misses, r.position
     from jsonb_to_recordset(:rows) as r (ladder_id uuid, name text, levels jsonb, misses jsonb, position int)
     on conflict (school_id, ladder_id) do update
       set name = excluded.name, levels = excluded.levels, misses = excluded.misses,
         position = excluded.position, retired_on = null`,
    {
      schoolId,
      rows: JSON.stringify(
        ladders.map(({ ladderId, ...ladder }, position) => ({ ladder_id: ladderId, ...ladder, position })),
      ),
    },
  );
  await trx.raw("update ladders set retired_on = ? where school_id = ? and ladder_id = any(?)", [
    today,
    schoolId,
    [...retired],
  ]);
}
