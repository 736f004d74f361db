import type { PersonScope } from "../access/scope.ts";
import { liveChannel } from "./summaries.ts";

/** Notes who did what to a student's record, and tells everyone who is looking at it. */
export async function noteAct(
  { trx, schoolId, actor }: PersonScope,
  step: {
    act: string;
    thing: "goal" | "student" | "absence" | "incident" | "choice" | "plan" | "pattern" | "decision";
    thingId: string;
    studentId: string;
  },
): Promise<void> {
  await trx.raw(
    `with noted as (
       insert into audit (school_id, person_id, act, thing, thing_id, student_id)
       values (:schoolId, :personId, :act, :thing, :thingId, :studentId)
     )
     select pg_notify(:channel, :payload)`,
    {
      ...step,
      schoolId,
      personId: actor.personId,
      channel: liveChannel,
      payload: JSON.stringify({ school: schoolId, student: step.studentId }),
    },
  );
}

/** Notes who did what to what belongs to the school as a whole. */
export async function noteSchoolAct(
  { trx, schoolId, actor }: PersonScope,
  step: { act: string; thing: string; thingId: string | null },
): Promise<void> {
  await trx("audit").insert({
    school_id: schoolId,
    person_id: actor.personId,
    act: step.act,
    thing: step.thing,
    thing_id: step.thingId,
  });
}
