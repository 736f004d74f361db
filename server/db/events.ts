import type { Actor } from "../access/actor.ts";
import type { Scope } from "../access/scope.ts";
import { enqueueJob, type Job } from "../jobs/enqueue.ts";
import { events as counted } from "../metrics.ts";

/** Everything that is audited: each kind of thing and what can happen to it. An act has no other words than these. */
interface Acts {
  entry: "made" | "corrected" | "removed" | "restored";
  "second observation": "made" | "removed";
  "not measured": "made" | "corrected" | "removed" | "restored";
  tally: "opened" | "asked" | "late counted" | "late left out" | "settled" | "opened again";
  incident: "made" | "corrected" | "removed" | "restored" | "joined" | "told apart";
  "watched day": "none" | "not observed" | "taken back";
  plan: "made" | "corrected" | "removed" | "restored";
  pattern: "made" | "removed" | "restored";
  decision: "made" | "corrected" | "removed" | "restored";
  goal:
    | "made"
    | "changed"
    | "met"
    | "not met"
    | "discontinued"
    | "continued"
    | "taken up again"
    | "removed"
    | "phase saved"
    | "phase removed";
  student: "made" | "changed" | "goals ordered" | "groups changed";
  "no name": "remembered";
  jot: "made" | "corrected" | "removed" | "restored";
  statement: "made" | "corrected" | "removed" | "restored" | "writer chosen";
  "statement ratings": "changed";
  picture: "added";
  "jot categories": "changed";
  edition: "made" | "shared";
  /** A report that left as a file; its row says for whom and why. */
  disclosure: "made";
  /** Reports of several students that leave together. */
  packet: "asked" | "looked through" | "made" | "cancelled";
  meeting: "begun" | "ended";
  /** A question or an agreement that was written in a meeting. */
  "meeting note": "made" | "removed" | "restored";
  audience: "changed";
  release: "made" | "taken back";
  /** What was recorded before its person's part ended, and sent after it. */
  "held item": "received" | "accepted" | "left out";
  /** A guardian of the student, whose id is the thing's. `opened`: they read the family's page. */
  guardian:
    | "made"
    | "changed"
    | "removed"
    | "link made"
    | "link taken back"
    | "code made"
    | "refused"
    | "allowed again"
    | "opened"
    | "asked"
    | "answered"
    | "address checked";
  /** With the student's majority. */
  rights: "birth date noted" | "passed, family ended" | "passed, family reads on" | "taken back";
  absence: "marked" | "taken back";
  /** Of a person in a student's circle, whose id is the thing's. */
  circle: "added" | "changed" | "ended" | "handed over" | "muted" | "unmuted";
  choices: "changed";
  summaries: "mended";
  device: "forgotten" | "handed over" | "given back";
  /** `refused`: somebody tried this person's PIN, and it was another. */
  pin: "set" | "given up" | "refused";
  person:
    | "saved"
    | "named"
    | "password changed"
    | "signed out elsewhere"
    | "messages chosen"
    | "invited"
    | "joined"
    | "reset link made"
    | "links taken back"
    | "signed out there"
    | "second step set"
    | "second step ended"
    | "second step taken away"
    | "passkey added"
    | "passkey removed";
  /** The identity provider of the school. */
  provider: "changed";
  "mail server": "changed" | "removed";
  "message settings": "changed";
  "message template": "changed";
  /** Outgoing. `sent`: a mail server took it. */
  message: "sent" | "cancelled" | "left" | "sent again" | "arrived" | "opened";
  "message to many": "sent" | "cancelled";
  /** Answers of several people that go to one reader. */
  feedback: "asked" | "answered" | "sent" | "closed" | "opened again";
  group: "saved" | "meets no longer";
  template: "made" | "changed" | "removed" | "put back";
  "school year": "saved";
  timetable: "saved";
  "incident settings": "changed";
  school: "changed";
}

/** Something that happened, told by ids and words of the table above: no text that anybody typed, and no data within a text. */
export type Event = {
  [Thing in keyof Acts]: {
    thing: Thing;
    act: Acts[Thing];
    thingId: string | null;
    /** The student it is about; null where it belongs to the school. */
    studentId: string | null;
    /** The day it is about, `YYYY-MM-DD`, where it is about one. */
    on?: string;
  };
}[keyof Acts];

/** What happened to a student's record, without the ids that say where. */
export type ActOf<Thing extends keyof Acts> = Acts[Thing];

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
const endsSessions: ReadonlySet<string> = new Set<Acts["person"]>([
  ...(["saved", "signed out there", "signed out elsewhere", "password changed"] as const),
]);

/** Who acted, in the columns of the audit. */
function actorColumns(actor: Actor) {
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
  // Whose part in a circle changed is told so, whatever they may still see.
  const told = (studentId: string) =>
    events.flatMap(({ thing, thingId, ...event }) =>
      thing === "circle" && event.studentId === studentId && thingId !== null ? thingId : [],
    );
  // So is the person whose place in the school, or whose session, changed.
  const ofSchool = events.flatMap(({ thing, act, thingId }) =>
    thing === "person" && endsSessions.has(act) && thingId !== null ? thingId : [],
  );
  const students = new Set(events.flatMap(({ studentId }) => studentId ?? []));
  const columns = ({ act, thing, thingId, studentId, on }: Event) => ({
    ...{ act, thing, about_on: on ?? null },
    ...{ thing_id: thingId, student_id: studentId },
  });
  await trx.raw(
    `with noted as (
       insert into audit (school_id, actor_kind, person_id, actor_id, job, act, thing, thing_id, student_id, about_on)
       select :schoolId, :actorKind, :personId, :actorId, :job, e.act, e.thing, e.thing_id, e.student_id, e.about_on
       from jsonb_to_recordset(:events) as e (act text, thing text, thing_id uuid, student_id uuid, about_on date)
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
      payloads: [
        ...[...students].map((student) => {
          const persons = told(student);
          return JSON.stringify({ school: schoolId, student, ...(persons.length > 0 ? { persons } : {}) });
        }),
        ...(ofSchool.length > 0
          ? [JSON.stringify({ school: schoolId, student: null, persons: ofSchool })]
          : []),
      ],
    },
  );
  for (const { thing, act } of events) counted.inc({ thing, act });
  const after = events.flatMap((event) => jobsAfter[`${event.thing} ${event.act}`]?.(event, schoolId) ?? []);
  for (const job of [...after, ...jobs]) await enqueueJob(trx, job);
}

/** The same for one event. */
export const recordEvent = (scope: Scope, event: Event, jobs: readonly Job[] = []): Promise<void> =>
  recordEvents(scope, [event], jobs);
