import type { RevisedActs, RevisedContent, RevisedThing, Revision } from "#core/model/revision.ts";
import { shortName } from "#core/model/student-names.ts";
import type { PersonScope, Scope } from "../access/scope.ts";
import type { Transaction } from "./connection.ts";
import { type Event, recordEvent } from "./events.ts";

/** What a step of an entry keeps, in SQL, from a row of `entries`. Saving stays one statement. */
export const entryRevision = (
  alias: string,
) => `jsonb_build_object('observedAt', ${alias}.observed_at, 'setting', ${alias}.setting,
  'entry', ${alias}.entry, 'score', ${alias}.score, 'note', ${alias}.note, 'circumstances', ${alias}.circumstances, 'observerId', ${alias}.observer_id)`;

/** The same for a row of `incidents`. */
export const incidentRevision = (
  alias: string,
) => `jsonb_build_object('on', ${alias}.occurred_on, 'at', ${alias}.occurred_at,
  'period', ${alias}.period, 'content', ${alias}.content, 'note', ${alias}.note, 'sameAs', ${alias}.same_as)`;

/** The columns that a step is written to, in the order of the statements that write one. */
export const revisionColumns =
  "school_id, thing, thing_id, revision, act, person_id, reason, content, content_hash";

/**
 * Keeps a step in the history of a thing, with what it is from now on, and records the event. Entries and incidents keep theirs in the
 * statement that changes them.
 */
export async function recordStep<Thing extends RevisedThing>(
  scope: PersonScope,
  thing: Thing,
  step: {
    studentId: string;
    thingId: string;
    revision: number;
    act: RevisedActs[Thing];
    reason?: string | null;
    content: RevisedContent[Thing];
  },
): Promise<void> {
  const { trx, schoolId, actor } = scope;
  const { thingId, studentId, revision, act, reason, content } = step;
  await trx("revisions").insert({
    ...{ school_id: schoolId, thing, thing_id: thingId, revision, act, person_id: actor.personId },
    ...{ reason: reason || null, content: JSON.stringify(content) },
  });
  // The acts of each kind of thing are among those of its events.
  await recordEvent(scope, { act, thing, thingId, studentId } as Event);
}

type RevisionRow<Thing extends RevisedThing> = Omit<Revision<Thing>, "by" | "deviceOf"> & {
  thing_id: string;
  given_name: string | null;
  family_name: string | null;
  sender_given: string | null;
  sender_family: string | null;
};

/** Everything that happened to these things of one kind, by thing, the first step first. */
export async function listRevisionsOf<Thing extends RevisedThing>(
  { trx, schoolId, timeZone }: Scope,
  thing: Thing,
  ids: readonly string[],
): Promise<Map<string, Revision<Thing>[]>> {
  const { rows } = await trx.raw<{ rows: RevisionRow<Thing>[] }>(
    `select r.thing_id, r.revision, r.act, r.reason, r.content, p.given_name, p.family_name, s.given_name as sender_given, s.family_name as sender_family,
       (r.at at time zone :timeZone)::date as on, to_char(r.at at time zone :timeZone, 'HH24:MI') as time
     from revisions r left join people p on p.school_id = r.school_id and p.person_id = r.person_id
       left join people s on s.school_id = r.school_id and s.person_id = r.sent_by
     where r.school_id = :schoolId and r.thing = :thing and r.thing_id = any(:ids) order by r.thing_id, r.revision`,
    { schoolId, timeZone, thing, ids: [...ids] },
  );
  const found = new Map<string, Revision<Thing>[]>(ids.map((id) => [id, []]));
  const nameOf = (given: string | null, family: string | null) =>
    given === null || family === null ? null : shortName(given, family);
  for (const { thing_id, given_name, family_name, sender_given, sender_family, ...step } of rows)
    found.get(thing_id)?.push({
      ...step,
      by: nameOf(given_name, family_name),
      deviceOf: nameOf(sender_given, sender_family),
    });
  return found;
}

/** Everything that happened to one thing, the first step first. */
export async function listRevisions<Thing extends RevisedThing>(
  scope: Scope,
  thing: Thing,
  thingId: string,
): Promise<Revision<Thing>[]> {
  return (await listRevisionsOf(scope, thing, [thingId])).get(thingId) ?? [];
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
