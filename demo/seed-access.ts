import { dateOfDay } from "#core/dates/day-number.ts";
import type { ReadThing } from "#core/words/event-acts.ts";
import type { Transaction } from "#server/db/connection.ts";
import { type PersonKey } from "./school.ts";

/** Who looked at Wren's record in the last days of the story: the person, their role in the circle, so many school days before, and when. */
const looked: readonly (readonly [PersonKey, "lead" | "record" | "read", ReadThing, number, string])[] = [
  ["ines", "record", "report", 4, "08:20"],
  ["teo", "record", "goals", 3, "10:05"],
  ["noor", "lead", "student", 3, "15:32"],
  ["hana", "read", "incidents", 2, "14:10"],
  ["noor", "lead", "report", 1, "07:50"],
  ["paloma", "record", "student", 1, "13:15"],
];

const requests: readonly {
  kind: "given" | "refused";
  byWhom: string;
  what: string;
  interest: string;
  before: number;
}[] = [
  {
    ...{ kind: "refused", byWhom: "Bayline Tutoring", what: "The progress reports of this year", before: 3 },
    interest: "Wants to plan lessons; the parents have not agreed.",
  },
  {
    ...{ kind: "given", byWhom: "Dr. Ilse Varga, Larkspur Pediatrics", before: 2 },
    ...{
      what: "The sleep and incident notes of October",
      interest: "Checks the dose; the mother agreed in writing.",
    },
  },
];

/**
 * What the demo's events would be had the story been recorded on the pages: editions that were made and shared, what was released, messages to
 * families, and who looked at one student's record.
 */
export async function seedAccess(
  trx: Transaction,
  {
    schoolId,
    personIds,
    wrenId,
    firstDay,
    dayBefore,
    newId,
  }: {
    schoolId: string;
    personIds: Record<PersonKey, string>;
    wrenId: string;
    /** The day number of the story's first day. */
    firstDay: number;
    /** The school day so many before the last of the story. */
    dayBefore: (days: number) => number;
    newId: (day: number) => string;
  },
): Promise<void> {
  const momentOf = (before: number, time: string) =>
    new Date(`${dateOfDay(firstDay + dayBefore(before))}T${time}:00-08:00`);
  const ofPerson = { actor_kind: "person", school_id: schoolId } as const;
  const events: Record<string, unknown>[] = looked.map(([key, circle_role, thing, before, time]) => {
    const at = momentOf(before, time);
    const hour = new Date(Math.floor(at.getTime() / 3_600_000) * 3_600_000);
    return {
      ...{ ...ofPerson, person_id: personIds[key], student_id: wrenId, act: "read", way: "page" },
      ...{ thing, circle_role, at, hour },
    };
  });
  for (const { before, ...request } of requests) {
    const at = momentOf(before, "11:40");
    const request_id = newId(dayBefore(before));
    await trx("outside_requests").insert({
      ...{ school_id: schoolId, request_id, student_id: wrenId, person_id: personIds.noor, made_at: at },
      ...{ by_whom: request.byWhom, what: request.what, interest: request.interest },
      kind: request.kind,
      requested_on: dateOfDay(firstDay + dayBefore(before)),
    });
    events.push({
      ...{ ...ofPerson, person_id: personIds.noor, student_id: wrenId, circle_role: "lead", at },
      ...{ thing: "outside request", act: request.kind, thing_id: request_id },
    });
  }
  const { rows } = await trx.raw<{ rows: Record<string, unknown>[] }>(
    `select 'person' as actor_kind, person_id, 'edition' as thing, 'made' as act, edition_id as thing_id, student_id, made_at as at from editions
       where school_id = :schoolId
     union all select 'person', s.person_id, 'edition', 'shared', s.edition_id, e.student_id, s.at from edition_shares s
       join editions e on e.school_id = s.school_id and e.edition_id = s.edition_id where s.school_id = :schoolId
     union all select 'person', person_id, 'release', 'made', thing_id, student_id, at from releases where school_id = :schoolId`,
    { schoolId },
  );
  const { rows: sent } = await trx.raw<{ rows: Record<string, unknown>[] }>(
    `select 'job' as actor_kind, 'deliver' as job, 'message' as thing, 'sent' as act, message_id as thing_id, student_id, over_at as at from messages
     where school_id = :schoolId and state = 'sent' and student_id is not null`,
    { schoolId },
  );
  const all = [...events, ...rows, ...sent].toSorted((a, b) => Number(a["at"]) - Number(b["at"]));
  for (const one of all) await trx("audit").insert({ ...one, school_id: schoolId });
  // Rules of an invented handbook, and a request of a parent that was met.
  await trx("retention").insert(
    (
      [
        ["messages", 2],
        ["record", 5],
      ] as const
    ).map(([kind, years]) => ({
      ...{ school_id: schoolId, kind, years, source: "Handbook of Larkspur Bay, 4.2" },
    })),
  );
  await trx("rights_requests").insert({
    ...{ school_id: schoolId, request_id: newId(dayBefore(6)), student_id: wrenId, kind: "inspect" },
    ...{ by_whom: "Wren’s mother, by phone", words: "Everything about reading.", person_id: personIds.noor },
    ...{ received_on: dateOfDay(firstDay + dayBefore(6)), made_at: momentOf(6, "12:20") },
    ...{ outcome: "inspected", outcome_words: "At school, an hour, with Noor Halloran" },
    ...{ ended_on: dateOfDay(firstDay + dayBefore(2)), ended_by: personIds.noor },
  });
}
