import type { RevisedContent, RevisedThing, Revision } from "#core/model/revision.ts";
import { shortName } from "#core/model/student-names.ts";
import type { PersonScope, Scope } from "../access/scope.ts";
import type { Transaction } from "./connection.ts";

/** What a step of an entry keeps, in SQL, from a row of `entries`. Saving stays one statement. */
export const entryRevision = (
  alias: string,
) => `jsonb_build_object('observedAt', ${alias}.observed_at, 'setting', ${alias}.setting,
  'entry', ${alias}.entry, 'score', ${alias}.score, 'note', ${alias}.note, 'circumstances', ${alias}.circumstances, 'observerId', ${alias}.observer_id)`;

/** The same for a row of `incidents`. */
export const incidentRevision = (
  alias: string,
) => `jsonb_build_object('on', ${alias}.occurred_on, 'at', ${alias}.occurred_at,
  'period', ${alias}.period, 'content', ${alias}.content, 'note', ${alias}.note)`;

/** The columns that a step is written to, in the order of the statements that write one. */
export const revisionColumns =
  "school_id, thing, thing_id, revision, act, person_id, reason, content, content_hash";

/** Keeps a step in the history of a thing: what stands from now on. */
export async function keepRevision<Thing extends RevisedThing>(
  { trx, schoolId, actor }: PersonScope,
  thing: Thing,
  step: {
    thingId: string;
    revision: number;
    act: string;
    reason?: string | null;
    content: RevisedContent[Thing];
  },
): Promise<void> {
  await trx("revisions").insert({
    ...{ school_id: schoolId, thing, thing_id: step.thingId, revision: step.revision, act: step.act },
    ...{ person_id: actor.personId, reason: step.reason ?? null, content: JSON.stringify(step.content) },
  });
}

type RevisionRow<Thing extends RevisedThing, Act extends string> = Omit<Revision<Thing, Act>, "by"> & {
  thing_id: string;
  given_name: string | null;
  family_name: string | null;
};

/** Everything that happened to these things of one kind, by thing, the first step first. */
export async function listRevisionsOf<
  Thing extends RevisedThing,
  Act extends string = Revision<Thing>["act"],
>(
  { trx, schoolId, timeZone }: Scope,
  thing: Thing,
  ids: readonly string[],
): Promise<Map<string, Revision<Thing, Act>[]>> {
  const { rows } = await trx.raw<{ rows: RevisionRow<Thing, Act>[] }>(
    `select r.thing_id, r.revision, r.act, r.reason, r.content, p.given_name, p.family_name,
       (r.at at time zone :timeZone)::date as on, to_char(r.at at time zone :timeZone, 'HH24:MI') as time
     from revisions r left join people p on p.school_id = r.school_id and p.person_id = r.person_id
     where r.school_id = :schoolId and r.thing = :thing and r.thing_id = any(:ids) order by r.thing_id, r.revision`,
    { schoolId, timeZone, thing, ids: [...ids] },
  );
  const found = new Map<string, Revision<Thing, Act>[]>(ids.map((id) => [id, []]));
  for (const { thing_id, given_name, family_name, ...step } of rows)
    found.get(thing_id)?.push({
      ...step,
      by: given_name === null || family_name === null ? null : shortName(given_name, family_name),
    });
  return found;
}

/** Everything that happened to one thing, the first step first. */
export async function listRevisions<Thing extends RevisedThing, Act extends string = Revision<Thing>["act"]>(
  scope: Scope,
  thing: Thing,
  thingId: string,
): Promise<Revision<Thing, Act>[]> {
  return (await listRevisionsOf<Thing, Act>(scope, thing, [thingId])).get(thingId) ?? [];
}

/** The hash of what stood at a step; null where there is none. */
export async function revisionHash(
  { trx, schoolId }: Scope,
  thing: RevisedThing,
  thingId: string,
  revision: number,
): Promise<string | null> {
  const { rows } = await trx.raw<{ rows: { content_hash: string | null }[] }>(
    "select content_hash from revisions where school_id = ? and thing = ? and thing_id = ? and revision = ?",
    [schoolId, thing, thingId, revision],
  );
  return rows[0]?.content_hash ?? null;
}

/** Keeps the first step of every entry and incident of a school that was brought in without one. */
export async function keepFirstRevisions(trx: Transaction, schoolId: string): Promise<void> {
  for (const [thing, table, id, content] of [
    ["entry", "entries", "entry_id", entryRevision("t")],
    ["incident", "incidents", "incident_id", incidentRevision("t")],
  ])
    await trx.raw(
      `insert into revisions (${revisionColumns}, at)
       select school_id, :thing, ${id}, 1, 'made', author_id, null, ${content}, made_hash, saved_at from ${table} t
       where school_id = :schoolId and not exists (select 1 from revisions r
         where r.school_id = t.school_id and r.thing = :thing and r.thing_id = t.${id})`,
      { thing, schoolId },
    );
}
