import type { EventActs } from "#core/words/event-acts.ts";
import type { Actor } from "../access/actor.ts";
import type { Scope } from "../access/scope.ts";
import { enqueueJob, type Job } from "../jobs/enqueue.ts";
import type { Run } from "./connection.ts";
import { events as counted } from "../metrics.ts";

/** Something that happened, told by ids and words of that list: no text that anybody typed, and no data within a text. */
export type Event = {
  [Thing in keyof EventActs]: {
    thing: Thing;
    act: EventActs[Thing];
    thingId: string | null;
    /** The student it is about; null where it belongs to the school. */
    studentId: string | null;
    /** The day it is about, `YYYY-MM-DD`, where it is about one. */
    on?: string;
  };
}[keyof EventActs];

/** What happened to a student's record, without the ids that say where. */
export type ActOf<Thing extends keyof EventActs> = EventActs[Thing];

/** The channel of PostgreSQL on which every web process listens. */
export const liveChannel = "gentle_margin";

const workAtPacket = ({ thingId }: Event, schoolId: string): Job | [] =>
  thingId === null ? [] : { queue: "packet", data: { schoolId, packetId: thingId } };

/** Work that follows an event, by the event's thing and act. */
const jobsAfter: Partial<Record<string, (event: Event, schoolId: string) => Job | []>> = {
  "packet asked": workAtPacket,
  "packet looked through": workAtPacket,
  // A mended summary is checked once more: a second difference means that some code writes summaries wrongly.
  "summaries mended": (_, schoolId) => ({
    queue: "check-summaries",
    data: { schoolId, again: true },
    startAfter: 3600,
  }),
};

/** What people may be sent a message about: it is looked at soon after, apart from what was saved. */
const isNews: ReadonlySet<string> = new Set([
  ...["entry made", "incident made", "incident corrected", "incident restored", "jot made"],
  ...["edition made", "edition shared", "guardian asked", "guardian answered", "held item received"],
  ...["statement writer chosen"],
]);

/** Acts of a person after which a session of theirs may be over: their open pages look at once. */
const endsSessions: ReadonlySet<string> = new Set<EventActs["person"]>([
  ...(["saved", "signed out there", "signed out elsewhere", "password changed"] as const),
]);

/** Notifies of nothing that happened: a process learns by it whether notifications arrive. */
export const notifyLive = (database: Run, payload: string) =>
  database.raw("select pg_notify(?, ?)", [liveChannel, payload]);

/** A payload of PostgreSQL holds less than 8000 bytes: so many ids of each kind are sent in one. */
const idsInPayload = 90;

/** One payload for all of it, except where more students or persons are named than one holds. */
function livePayloads(school: string, students: readonly string[], persons: readonly string[]): string[] {
  const count = Math.ceil(Math.max(students.length, persons.length) / idsInPayload);
  return Array.from({ length: count }, (_, index) => {
    const part = (ids: readonly string[]) => ids.slice(index * idsInPayload, (index + 1) * idsInPayload);
    return JSON.stringify({ school, students: part(students), persons: part(persons) });
  });
}

/** Who acted, in the columns of the audit. */
export function actorColumns(actor: Actor) {
  return {
    actorKind: actor.kind,
    personId: actor.kind === "person" ? actor.personId : null,
    actorId: actor.kind === "link" ? actor.linkId : actor.kind === "student" ? actor.studentId : null,
    job: actor.kind === "job" ? actor.name : null,
  };
}

/**
 * Writes down that these things happened, tells everyone who is looking at their students, and enqueues the work that follows; all of
 * it within the scope's transaction. Nothing else writes the audit, notifies or enqueues. One statement, and one a job.
 *
 * @param jobs work that follows this once, beside what always follows such an event
 */
export async function recordEvents(
  scope: Scope,
  events: readonly Event[],
  jobs: readonly Job[] = [],
): Promise<void> {
  const { trx, schoolId, actor } = scope;
  // Whose part in a circle, place in the school or session changed is told so, whatever they may still see.
  const persons = events.flatMap(({ thing, act, thingId }) =>
    thingId !== null && (thing === "circle" || (thing === "person" && endsSessions.has(act))) ? thingId : [],
  );
  const students = new Set(events.flatMap(({ studentId }) => studentId ?? []));
  const columns = ({ act, thing, thingId, studentId, on }: Event) => ({
    ...{ act, thing, about_on: on ?? null },
    ...{ thing_id: thingId, student_id: studentId },
    circle_role: studentId !== null && studentId === scope.studentId ? scope.circleRole : null,
  });
  await trx.raw(
    `with noted as (
       insert into audit (school_id, actor_kind, person_id, actor_id, job, act, thing, thing_id, student_id, about_on, circle_role)
       select :schoolId, :actorKind, :personId, :actorId, :job, e.act, e.thing, e.thing_id, e.student_id, e.about_on, e.circle_role
       from jsonb_to_recordset(:events) as e (act text, thing text, thing_id uuid, student_id uuid, about_on date, circle_role text)
     ), news as (
       insert into news (school_id, person_id, act, thing, thing_id, student_id)
       select :schoolId, :personId, e.act, e.thing, e.thing_id, e.student_id
       from jsonb_to_recordset(:news) as e (act text, thing text, thing_id uuid, student_id uuid)
     )
     select pg_notify(:channel, payload) from unnest(:payloads::text[]) as payload`,
    {
      ...actorColumns(actor),
      schoolId,
      events: JSON.stringify(events.map(columns)),
      news: JSON.stringify(events.filter(({ thing, act }) => isNews.has(`${thing} ${act}`)).map(columns)),
      channel: liveChannel,
      payloads: livePayloads(schoolId, [...students], [...new Set(persons)]),
    },
  );
  for (const { thing, act } of events) counted.inc({ thing, act });
  const after = events.flatMap((event) => jobsAfter[`${event.thing} ${event.act}`]?.(event, schoolId) ?? []);
  for (const job of [...after, ...jobs]) await enqueueJob(trx, job);
}

/** The same for one event. */
export const recordEvent = (scope: Scope, event: Event, jobs: readonly Job[] = []): Promise<void> =>
  recordEvents(scope, [event], jobs);
