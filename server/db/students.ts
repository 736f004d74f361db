import { may, type Permission } from "../access/table.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import { recordEvent } from "./events.ts";
import type { CircleRole } from "../access/actor.ts";
import {
  goalColumns,
  type GoalRow,
  goalTables,
  studentColumns,
  type StudentRow,
  toGoal,
  toStudent,
} from "./rows.ts";
import type { SummarisedGoal } from "#core/progress/goal-figures.ts";
import type { Student } from "#core/model/student.ts";

/** Is the person in the circle of the student `st`? Bindings `:personId`. */
export const inCircle = `exists (select 1 from circle c where c.school_id = st.school_id and c.student_id = st.student_id
  and c.person_id = :personId and in_circle_now(c.from_on, c.to_on))`;

/** The same for those whose circle they lead. */
export const leads = inCircle.replace("where", "where c.part = 'lead' and");

/** Is this a student of the school? */
export async function isStudentHere({ trx, schoolId }: Scope, studentId: string): Promise<boolean> {
  const row = await trx("students").where({ school_id: schoolId, student_id: studentId }).first("student_id");
  return row !== undefined;
}

/** The students in whose circle the person is, by first name, as on the spine. */
export async function listStudents({ trx, schoolId, actor }: PersonScope): Promise<Student[]> {
  const { rows } = await trx.raw<{ rows: StudentRow[] }>(
    `select ${studentColumns} from students st
     where st.school_id = :schoolId and st.left_on is null and ${inCircle}
     order by st.given_name, st.family_name, st.student_id`,
    { schoolId, personId: actor.personId },
  );
  return rows.map(toStudent);
}

/** Every goal of those students with its kept facts, in the order of each IEP page. */
export async function listCaseloadGoals({ trx, schoolId, actor }: PersonScope): Promise<SummarisedGoal[]> {
  const { rows } = await trx.raw<{ rows: GoalRow[] }>(
    `select ${goalColumns} from ${goalTables}
     join students st on st.school_id = g.school_id and st.student_id = g.student_id
     where g.school_id = :schoolId and st.left_on is null and ${inCircle}
     order by g.student_id, g.position`,
    { schoolId, personId: actor.personId },
  );
  return rows.map(toGoal);
}

/**
 * One student of the school. Whether the actor may see them was asked before.
 *
 * @throws NotFound
 */
export async function findStudent({ trx, schoolId }: Scope, studentId: string): Promise<Student> {
  const { rows } = await trx.raw<{ rows: StudentRow[] }>(
    `select ${studentColumns} from students st where st.school_id = ? and st.student_id = ?`,
    [schoolId, studentId],
  );
  return toStudent(rows[0] ?? notFound());
}

/** The ids of all students who are at the school. */
export async function listStudentIds({ trx, schoolId }: Scope): Promise<string[]> {
  const rows = await trx("students")
    .where({ school_id: schoolId })
    .whereNull("left_on")
    .orderBy("student_id")
    .select("student_id");
  return rows.map(({ student_id }) => student_id);
}

/** All goals of a student in their order, ended ones too. */
export async function listGoals({ trx, schoolId }: Scope, studentId: string): Promise<SummarisedGoal[]> {
  const { rows } = await trx.raw<{ rows: GoalRow[] }>(
    `select ${goalColumns} from ${goalTables} where g.school_id = ? and g.student_id = ? order by g.position`,
    [schoolId, studentId],
  );
  return rows.map(toGoal);
}

/**
 * One goal of a student.
 *
 * @throws NotFound
 */
export async function findGoal(
  scope: PersonScope,
  studentId: string,
  goalId: string,
): Promise<SummarisedGoal> {
  return (await listGoals(scope, studentId)).find((goal) => goal.goalId === goalId) ?? notFound();
}

/** Which role the person has in the circle of each of these students, or of all; those outside are left out. */
export async function listCircleRoles(
  { trx, schoolId, actor }: PersonScope,
  studentIds: readonly string[] | "all",
): Promise<{ studentId: string; circleRole: CircleRole }[]> {
  const { rows } = await trx.raw<{ rows: { student_id: string; circle_role: CircleRole }[] }>(
    `select c.student_id, c.part as circle_role from circle c
     where c.school_id = :schoolId and c.person_id = :personId and in_circle_now(c.from_on, c.to_on)
       ${studentIds === "all" ? "" : "and c.student_id = any(:studentIds)"}`,
    {
      ...{ schoolId, personId: actor.personId },
      ...(studentIds === "all" ? {} : { studentIds: [...studentIds] }),
    },
  );
  return rows.map((row) => ({ studentId: row.student_id, circleRole: row.circle_role }));
}

/** Of those students, the ones with whom the person may do this. */
export async function listStudentsFor(scope: PersonScope, permission: Permission): Promise<Student[]> {
  const students = await listStudents(scope);
  const ids = students.map(({ studentId }) => studentId);
  const roles = new Map(
    (await listCircleRoles(scope, ids)).map(({ studentId, circleRole }) => [studentId, circleRole]),
  );
  return students.filter(({ studentId }) =>
    may(scope.actor, permission, { circleRole: roles.get(studentId) ?? null }),
  );
}

/** What a person keeps of a student. */
export interface StudentContent {
  givenName: string;
  familyName: string;
  preferredName: string | null;
  alias: string | null;
  /** Where those made of the name do not tell this student from another. */
  initials: string | null;
  grade: string;
  iepFrom: string | null;
  iepTo: string | null;
  leftOn: string | null;
}

function columnsOf(content: StudentContent) {
  return {
    given_name: content.givenName,
    family_name: content.familyName,
    preferred_name: content.preferredName,
    alias: content.alias,
    initials: content.initials,
    grade: content.grade,
    iep_from: content.iepFrom,
    iep_to: content.iepTo,
    left_on: content.leftOn,
  };
}

/** The people of the school who carry a caseload. */
export async function listCaseManagers({
  trx,
  schoolId,
}: Scope): Promise<{ personId: string; name: string }[]> {
  const { rows } = await trx.raw<{ rows: { person_id: string; given_name: string; family_name: string }[] }>(
    `select person_id, given_name, family_name from people
     where school_id = ? and case_manager and left_on is null order by given_name, family_name`,
    [schoolId],
  );
  return rows.map((row) => ({ personId: row.person_id, name: `${row.given_name} ${row.family_name}` }));
}

/** Adds a student, with the case manager who leads the circle from the first moment. The same id sent twice is one student. */
export async function addStudent(
  scope: PersonScope,
  studentId: string,
  content: StudentContent,
  leadId: string,
): Promise<"saved" | "already"> {
  requirePermission(scope, "student.add");
  const { trx, schoolId } = scope;
  const key = { school_id: schoolId, student_id: studentId };
  if (await trx("students").where(key).first()) return "already";
  await trx("students").insert({ ...key, ...columnsOf(content) });
  await trx("circle").insert({ ...key, person_id: leadId, part: "lead" });
  await trx.raw("select gate.enter_again()");
  await recordEvent(scope, { act: "made", thing: "student", thingId: studentId, studentId });
  return "saved";
}

/**
 * Writes what was changed of a student.
 *
 * @throws Refused
 */
export async function changeStudent(
  scope: PersonScope,
  studentId: string,
  content: StudentContent,
): Promise<void> {
  requirePermission(scope, "student.edit");
  await scope
    .trx("students")
    .where({ school_id: scope.schoolId, student_id: studentId })
    .update(columnsOf(content));
  await recordEvent(scope, { act: "changed", thing: "student", thingId: studentId, studentId });
}

/** The days on which a student was absent, latest first. */
export async function listAbsences({ trx, schoolId }: Scope, studentId: string): Promise<string[]> {
  const { rows } = await trx.raw<{ rows: { absent_on: string }[] }>(
    "select absent_on from absences where school_id = ? and student_id = ? order by absent_on desc limit 400",
    [schoolId, studentId],
  );
  return rows.map(({ absent_on }) => absent_on);
}

/** Notes that a student is absent on a day, or takes that back; either twice is once. */
export async function markAbsence(
  scope: PersonScope,
  studentId: string,
  on: string,
  absent: boolean,
): Promise<void> {
  requirePermission(scope, "absence.mark");
  const { trx, schoolId, actor } = scope;
  const key = { school_id: schoolId, student_id: studentId, absent_on: on };
  if (absent)
    await trx("absences")
      .insert({ ...key, person_id: actor.personId })
      .onConflict()
      .ignore();
  else await trx("absences").where(key).delete();
  await recordEvent(scope, {
    ...{ thing: "absence", act: absent ? "marked" : "taken back" },
    ...{ thingId: null, studentId, on },
  });
}

/** A student by what they are called on screens: their alias, or their initials. No name is in it. */
export interface CalledStudent {
  studentId: string;
  alias: string;
}

/** Every student of a school who has not left, for work of the server itself. */
export async function listCalledStudents(scope: Scope): Promise<CalledStudent[]> {
  requirePermission(scope, "file.make");
  const { rows } = await scope.trx.raw<{ rows: StudentRow[] }>(
    `select ${studentColumns} from students st where st.school_id = ? and st.left_on is null order by st.student_id`,
    [scope.schoolId],
  );
  return rows.map(toStudent).map(({ studentId, screenName }) => ({ studentId, alias: screenName }));
}
