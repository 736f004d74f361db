import type { LetterKeys } from "#core/model/letter-keys.ts";
import type { PersonScope } from "../access/scope.ts";

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
    `select exists (select 1 from students where school_id = :schoolId) as student,
       exists (select 1 from goals where school_id = :schoolId) as goal,
       exists (select 1 from people where school_id = :schoolId and person_id <> :personId) as colleague,
       exists (select 1 from entries where school_id = :schoolId) as sitting,
       (select c.student_id from circle c where c.school_id = :schoolId and c.person_id = :personId and c.part = 'lead'
         and in_circle_now(c.from_on, c.to_on) order by c.from_on, c.student_id limit 1) as student_id`,
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
