import type { LetterKeys } from "#core/model/letter-keys.ts";
import type { SchoolLocale } from "#core/words/locale.ts";
import { type PersonScope, requirePermission } from "../access/scope.ts";
import { recordEvent } from "./events.ts";

/** What single letters do on this person's screens. */
export async function readLetterKeys({ trx, schoolId, actor }: PersonScope): Promise<LetterKeys> {
  const row = await trx("people")
    .where({ school_id: schoolId, person_id: actor.personId })
    .first("letter_keys");
  return row?.letter_keys ?? "plain";
}

/** Saves what single letters do for this person, in every browser. */
export async function saveLetterKeys({ trx, schoolId, actor }: PersonScope, way: LetterKeys): Promise<void> {
  await trx("people").where({ school_id: schoolId, person_id: actor.personId }).update({ letter_keys: way });
}

/** How dates, times and numbers are written for a person; null as their school does. */
export async function readOwnLocale({ trx, schoolId, actor }: PersonScope): Promise<SchoolLocale | null> {
  const row = await trx("people").where({ school_id: schoolId, person_id: actor.personId }).first("locale");
  return row?.locale ?? null;
}

/** What a person says of themselves: their name, as everything they recorded is signed, and how dates are written for them. */
export async function saveOwnName(
  scope: PersonScope,
  own: { givenName: string; familyName: string; locale: SchoolLocale | null },
): Promise<void> {
  requirePermission(scope, "own-settings.keep");
  const { trx, schoolId, actor } = scope;
  await trx("people")
    .where({ school_id: schoolId, person_id: actor.personId })
    .update({ given_name: own.givenName, family_name: own.familyName, locale: own.locale });
  await recordEvent(scope, {
    ...{ thing: "person", act: "named" },
    ...{ thingId: actor.personId, studentId: null },
  });
}

/** The first steps of a school, and which of them are done. */
export interface FirstSteps {
  student: boolean;
  goal: boolean;
  colleague: boolean;
  sitting: boolean;
  /** The student a first goal is set up for: the first that this person leads. */
  studentId: string | null;
}

/**
 * How far the school is with its first steps, for a person who has them before them; null where they are done or skipped. Once all are done
 * they are over for good.
 */
export async function readFirstSteps(scope: PersonScope): Promise<FirstSteps | null> {
  const { trx, schoolId, actor } = scope;
  if (actor.trailOver || !(actor.caseManager || actor.role === "administrator")) return null;
  const { rows } = await trx.raw<{ rows: (Omit<FirstSteps, "studentId"> & { student_id: string | null })[] }>(
    `select h.student, h.goal, h.entry as sitting,
       exists (select 1 from people where school_id = :schoolId and person_id <> :personId) as colleague,
       (select c.student_id from circle c where c.school_id = :schoolId and c.person_id = :personId and c.part = 'lead'
         and in_circle_now(c.from_on, c.to_on) order by c.from_on, c.student_id limit 1) as student_id
     from gate.school_has() h`,
    { schoolId, personId: actor.personId },
  );
  const [row] = rows;
  if (!row) return null;
  const { student, goal, colleague, sitting, student_id: studentId } = row;
  if (student && goal && colleague && sitting) {
    await endFirstSteps(scope);
    return null;
  }
  return { student, goal, colleague, sitting, studentId };
}

/** The first steps are done, or skipped. */
export async function endFirstSteps({ trx, schoolId, actor }: PersonScope): Promise<void> {
  await trx("people").where({ school_id: schoolId, person_id: actor.personId }).update({ trail_over: true });
}
