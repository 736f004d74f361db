import { notFound, type Visit } from "../access/enter.ts";
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

const inCircle = `exists (select 1 from circle c where c.school_id = st.school_id and c.student_id = st.student_id
  and c.person_id = :personId and c.from_on <= current_date + 1 and (c.to_on is null or c.to_on >= current_date))`;

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

/** Which of these students the person may read of: asked for each live notification. */
export async function keepReadable({ trx, person }: Visit, studentIds: readonly string[]): Promise<string[]> {
  const { rows } = await trx.raw<{ rows: { student_id: string }[] }>(
    `select st.student_id from students st
     where st.school_id = :schoolId and st.student_id = any(:studentIds) and ${inCircle}`,
    { schoolId: person.schoolId, personId: person.personId, studentIds: [...studentIds] },
  );
  return rows.map((row) => row.student_id);
}
