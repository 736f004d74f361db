import { notFound, type Visit } from "../access/visit.ts";
import type { Part } from "./school.ts";
import {
  type Goal,
  goalColumns,
  type GoalRow,
  goalTables,
  type Student,
  studentColumns,
  type StudentRow,
  toGoal,
  toStudent,
} from "./rows.ts";

/** Is a row `c` of a circle in force? A day of grace covers schools whose date is ahead of the database's. */
const isCurrent = "c.from_on <= current_date + 1 and (c.to_on is null or c.to_on >= current_date)";
const inCircle = `exists (select 1 from circle c where c.school_id = st.school_id and c.student_id = st.student_id
  and c.person_id = :personId and ${isCurrent})`;

/** The students in whose circle the person is, by first name, as on the spine. */
export async function listStudents({ trx, person }: Visit): Promise<Student[]> {
  const { rows } = await trx.raw<{ rows: StudentRow[] }>(
    `select ${studentColumns} from students st
     where st.school_id = :schoolId and st.left_on is null and ${inCircle}
     order by st.given_name, st.family_name, st.student_id`,
    { schoolId: person.schoolId, personId: person.personId },
  );
  return rows.map(toStudent);
}

/** Every goal of those students with its kept facts, in the order of each IEP page. */
export async function listCaseloadGoals({ trx, person }: Visit): Promise<Goal[]> {
  const { rows } = await trx.raw<{ rows: GoalRow[] }>(
    `select ${goalColumns} from ${goalTables}
     join students st on st.school_id = g.school_id and st.student_id = g.student_id
     where g.school_id = :schoolId and st.left_on is null and ${inCircle}
     order by g.student_id, g.position`,
    { schoolId: person.schoolId, personId: person.personId },
  );
  return rows.map(toGoal);
}

export async function findStudent({ trx, person }: Visit, studentId: string): Promise<Student> {
  const { rows } = await trx.raw<{ rows: StudentRow[] }>(
    `select ${studentColumns} from students st where st.school_id = ? and st.student_id = ?`,
    [person.schoolId, studentId],
  );
  return toStudent(rows[0] ?? notFound());
}

export async function listGoals({ trx, person }: Visit, studentId: string): Promise<Goal[]> {
  const { rows } = await trx.raw<{ rows: GoalRow[] }>(
    `select ${goalColumns} from ${goalTables} where g.school_id = ? and g.student_id = ? order by g.position`,
    [person.schoolId, studentId],
  );
  return rows.map(toGoal);
}

export async function findGoal(visit: Visit, studentId: string, goalId: string): Promise<Goal> {
  return (await listGoals(visit, studentId)).find((goal) => goal.goalId === goalId) ?? notFound();
}

/** Which part the person has in the circle of each of these students; those outside are left out. */
export async function listParts(
  { trx, person }: Visit,
  studentIds: readonly string[],
): Promise<{ studentId: string; part: Part }[]> {
  const { rows } = await trx.raw<{ rows: { student_id: string; part: Part }[] }>(
    `select c.student_id, c.part from circle c
     where c.school_id = :schoolId and c.student_id = any(:studentIds) and c.person_id = :personId and ${isCurrent}`,
    { schoolId: person.schoolId, personId: person.personId, studentIds: [...studentIds] },
  );
  return rows.map((row) => ({ studentId: row.student_id, part: row.part }));
}
