import { groupBy } from "#core/lists/group-by.ts";
import type { EventWay, ReadAct, ReadThing } from "#core/words/event-acts.ts";
import type { Scope } from "../access/scope.ts";
import type { Permission } from "../access/table.ts";
import { actorColumns } from "./events.ts";
import type { Transaction } from "./connection.ts";

/** What a page shows, by the first word of the permission it asks for. A word that is not here shows nothing of a record. */
const things: Partial<Record<string, ReadThing>> = {
  ...{ student: "student", report: "report", circle: "circle", family: "family", feedback: "feedback" },
  ...{ entry: "goals", goal: "goals", taught: "goals", tally: "goals", absence: "student" },
  ...{ incident: "incidents", choices: "incidents", plan: "incidents", jot: "jots" },
  ...{ statement: "statements", edition: "editions", file: "editions", meeting: "meeting", held: "goals" },
  "access-record": "access record",
  rights: "record rights",
};

/** What a page that asks for this permission shows of a student; null where it shows nothing. */
export const readThing = (permission: Permission): ReadThing | null =>
  things[permission.split(".")[0] ?? ""] ?? null;

const hourOf = (now: Date) => Math.floor(now.getTime() / 3_600_000);

/** What this process has noted in the hour that runs. It is let go with the hour, and where it grows beyond this. */
const most = 200_000;
let noted = { hour: 0, keys: new Set<string>() };

/** Lets go of what this process has noted, as one that starts has noted nothing. */
export function forgetNoted(): void {
  noted = { hour: 0, keys: new Set() };
}

/** Those of the keys that were not noted in this hour. They count as noted until the transaction is taken back. */
function take(trx: Transaction, hour: number, keys: readonly string[]): Set<string> {
  if (noted.hour !== hour || noted.keys.size > most) noted = { hour, keys: new Set() };
  const { keys: there } = noted;
  const fresh = new Set(keys.filter((key) => !there.has(key)));
  for (const key of fresh) there.add(key);
  if (fresh.size > 0)
    void trx.executionPromise.catch(() => {
      for (const key of fresh) there.delete(key);
    });
  return fresh;
}

/**
 * Writes down that something of these students was shown to the actor: once for each actor, student, thing, way and hour. What this process
 * has noted in the hour costs nothing more.
 */
export async function noteReads(
  scope: Scope,
  thing: ReadThing,
  studentIds: readonly string[],
  { way = "page", act = "read" }: { way?: EventWay; act?: ReadAct } = {},
): Promise<void> {
  const { trx, schoolId, actor, now } = scope;
  // The server's own work shows nothing to anybody; what it makes is an event of its own.
  if (!("session" in actor) || studentIds.length === 0) return;
  // By the session: after a restore everybody signs in again, and what the database lost of this hour is noted anew.
  const who = actor.session.toString("base64url");
  const hour = hourOf(now);
  const keyed = groupBy(studentIds, (studentId) => `${who} ${studentId} ${thing} ${act} ${way}`);
  const fresh = take(trx, hour, [...keyed.keys()]);
  const ids = [...fresh].flatMap((key) => keyed.get(key)?.[0] ?? []);
  if (ids.length === 0) return;
  await trx.raw(
    `insert into audit (school_id, actor_kind, person_id, actor_id, act, thing, student_id, way, circle_role, hour)
     select :schoolId, :actorKind, :personId, :actorId, :act, :thing, s.student_id, :way,
       (select c.part from circle c where c.school_id = :schoolId and c.student_id = s.student_id and c.person_id = :personId
         and in_circle_now(c.from_on, c.to_on)), to_timestamp(:hour)
     from unnest(:ids::uuid[]) as s (student_id) order by s.student_id
     on conflict do nothing`,
    { ...actorColumns(actor), schoolId, act, thing, way, hour: hour * 3600, ids: ids.sort() },
  );
}

/** Writes down that the person was refused something, once an hour. Of a student who is not in their school nothing is noted. */
export async function noteRefused(
  { trx }: Scope,
  studentId: string | null,
  permission: Permission,
): Promise<void> {
  await trx.raw("select gate.note_refused(?, ?)", [studentId, permission]);
}
