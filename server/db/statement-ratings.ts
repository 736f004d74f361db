import type { StatementRating } from "#core/model/progress-statement.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { recordEvent } from "./events.ts";

/** The ratings that a school's progress reports offer, in its order. */
export async function listStatementRatings({ trx, schoolId }: Scope): Promise<StatementRating[]> {
  const rows = await trx("statement_ratings")
    .where({ school_id: schoolId, retired_on: null })
    .orderBy(["position", "name", "rating_id"])
    .select("rating_id", "name", "spanish");
  return rows.map(({ rating_id, name, spanish }) => ({ ratingId: rating_id, name, spanish }));
}

/**
 * Saves the ratings in this order. One that is not among them is no longer offered; earlier statements keep it. A rating keeps its id when
 * its name changes, so the new name reaches earlier statements too, and no edition.
 */
export async function replaceStatementRatings(
  scope: PersonScope,
  ratings: readonly StatementRating[],
): Promise<void> {
  requirePermission(scope, "school.edit");
  const { trx, schoolId, today } = scope;
  await trx.raw(
    `insert into statement_ratings (school_id, rating_id, name, spanish, position)
     select :schoolId, r.rating_id, r.name, r.spanish, r.position
     from jsonb_to_recordset(:rows) as r (rating_id uuid, name text, spanish text, position int)
     on conflict (school_id, rating_id) do update
       set name = excluded.name, spanish = excluded.spanish, position = excluded.position, retired_on = null`,
    {
      schoolId,
      rows: JSON.stringify(
        ratings.map(({ ratingId, name, spanish }, position) => ({
          ...{ rating_id: ratingId, name, spanish, position },
        })),
      ),
    },
  );
  await trx.raw(
    "update statement_ratings set retired_on = ? where school_id = ? and retired_on is null and not rating_id = any(?)",
    [today, schoolId, ratings.map(({ ratingId }) => ratingId)],
  );
  await recordEvent(scope, { act: "changed", thing: "statement ratings", thingId: null, studentId: null });
}
