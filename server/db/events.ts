import type { Actor } from "../access/actor.ts";
import type { Scope } from "../access/scope.ts";
import { enqueue, type Job } from "../jobs/enqueue.ts";

/** Everything that is audited: each kind of thing and what can happen to it. An act has no other words than these. */
interface Acts {
  entry: "made" | "corrected" | "removed" | "restored";
  "second observation": "made" | "removed";
  "not measured": "made" | "corrected" | "removed" | "restored";
  tally: "opened";
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
  absence: "marked" | "taken back";
  choices: "changed";
  summaries: "mended";
  device: "forgotten" | "handed over";
  pin: "set" | "given up";
  person: "saved";
  group: "saved" | "meets no longer";
  template: "made" | "changed" | "removed" | "put back";
  "school year": "saved";
  timetable: "saved";
  "incident settings": "changed";
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

/** Work that follows an event, by the event's thing and act. */
const jobsAfter: Partial<Record<string, (event: Event, schoolId: string) => Job>> = {
  // What was mended is looked at once more: a second difference means that something writes summaries wrongly.
  "summaries mended": (_, schoolId) => ({
    queue: "check-summaries",
    data: { schoolId, again: true },
    startAfter: 3600,
  }),
};

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
 * Writes down that something happened, tells everyone who is looking at that student, and enqueues the work that follows; all of it
 * within the scope's transaction. Nothing else writes the audit, notifies or enqueues.
 */
export async function recordEvent(scope: Scope, event: Event): Promise<void> {
  const { trx, schoolId, actor } = scope;
  const { thing, act, thingId, studentId, on = null } = event;
  await trx.raw(
    `with noted as (
       insert into audit (school_id, actor_kind, person_id, actor_id, job, act, thing, thing_id, student_id, about_on)
       values (:schoolId, :actorKind, :personId, :actorId, :job, :act, :thing, :thingId, :studentId, :on)
     )
     select pg_notify(:channel, :payload) where :payload::text is not null`,
    {
      ...actorColumns(actor),
      ...{ schoolId, act, thing, thingId, studentId, on },
      channel: liveChannel,
      payload: studentId === null ? null : JSON.stringify({ school: schoolId, student: studentId }),
    },
  );
  const job = jobsAfter[`${thing} ${act}`]?.(event, schoolId);
  if (job) await enqueue(trx, job);
}
