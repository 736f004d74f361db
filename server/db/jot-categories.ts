import type { JotCategory, JotLevel } from "#core/model/jot.ts";
import { requirePermission, type PersonScope, type Scope } from "../access/scope.ts";
import { recordEvent } from "./events.ts";

/** A level as it is stored: one that is not offered any more stays for the jots that have it. */
interface StoredLevel extends JotLevel {
  retired?: boolean;
}

/** A category with every level it ever had. */
export interface StoredCategory extends Omit<JotCategory, "levels"> {
  levels: StoredLevel[];
  retired: boolean;
}

/** Every category that the school ever had, in its order. */
export async function listStoredCategories({ trx, schoolId }: Scope): Promise<StoredCategory[]> {
  const { rows } = await trx.raw<{
    rows: { category_id: string; name: string; levels: StoredLevel[]; retired: boolean }[];
  }>(
    `select category_id, name, levels, retired_on is not null as retired from jot_categories
     where school_id = ? order by position, name, category_id`,
    [schoolId],
  );
  return rows.map(({ category_id, ...row }) => ({ categoryId: category_id, ...row }));
}

/** The levels that are offered, the lowest first. */
export const offeredLevels = (levels: StoredCategory["levels"]): JotLevel[] =>
  levels.flatMap(({ retired, ...level }) => (retired ? [] : level));

/** What a school writes jots about, as it is offered now. */
export const listJotCategories = async (scope: Scope): Promise<JotCategory[]> =>
  (await listStoredCategories(scope)).flatMap(({ categoryId, name, levels, retired }) =>
    retired ? [] : { categoryId, name, levels: offeredLevels(levels) },
  );

/**
 * Saves the categories in this order. A category or level that is not among them is no longer offered; earlier jots keep it. A level
 * keeps its number when its name changes, so the new name reaches earlier jots.
 */
export async function replaceJotCategories(
  scope: PersonScope,
  categories: readonly JotCategory[],
): Promise<void> {
  requirePermission(scope, "school.edit");
  const { trx, schoolId, today } = scope;
  const before = new Map((await listStoredCategories(scope)).map((one) => [one.categoryId, one.levels]));
  const rows = categories.map(({ categoryId, name, levels }, position) => {
    const stay = new Set(levels.map(({ levelId }) => levelId));
    const gone = (before.get(categoryId) ?? [])
      .filter(({ levelId }) => !stay.has(levelId))
      .map((level) => ({ ...level, retired: true }));
    return { category_id: categoryId, name, position, levels: [...levels, ...gone] };
  });
  await trx.raw(
    `insert into jot_categories (school_id, category_id, name, levels, position)
     select :schoolId, r.category_id, r.name, r.levels, r.position
     from jsonb_to_recordset(:rows) as r (category_id uuid, name text, levels jsonb, position int)
     on conflict (school_id, category_id) do update
       set name = excluded.name, levels = excluded.levels, position = excluded.position, retired_on = null`,
    { schoolId, rows: JSON.stringify(rows) },
  );
  await trx.raw(
    "update jot_categories set retired_on = ? where school_id = ? and retired_on is null and not category_id = any(?)",
    [today, schoolId, categories.map(({ categoryId }) => categoryId)],
  );
  await recordEvent(scope, { act: "changed", thing: "jot categories", thingId: null, studentId: null });
}
