import { initialsOf } from "#core/model/student-names.ts";
import { requirePermission, type Scope } from "../access/scope.ts";
import type { JobActor } from "../access/actor.ts";

/** Somebody who is told that something waits, and of whom. */
export interface Noticed {
  personId: string;
  givenName: string;
  email: string;
  schoolName: string;
  /** The student, as little as says who is meant. */
  initials: string;
}

/** The leads of a student's circle now who are mailed when something waits for them. */
export async function listNoticed(scope: Scope<JobActor>, studentId: string): Promise<Noticed[]> {
  requirePermission(scope, "notices.send");
  const { rows } = await scope.trx.raw<{
    rows: {
      person_id: string;
      given_name: string;
      email: string;
      school_name: string;
      initials: string | null;
      given: string;
      family: string;
    }[];
  }>(
    `select p.person_id, p.given_name, p.email, sc.name as school_name, st.initials,
       coalesce(st.preferred_name, st.given_name) as given, st.family_name as family
     from circle c
     join people p on p.school_id = c.school_id and p.person_id = c.person_id
     join students st on st.school_id = c.school_id and st.student_id = c.student_id
     join schools sc on sc.school_id = c.school_id
     where c.school_id = ? and c.student_id = ? and c.part = 'lead' and in_circle_now(c.from_on, c.to_on)
       and p.mail_notices and p.email is not null and (p.left_on is null or p.left_on >= ?)
     order by p.person_id`,
    [scope.schoolId, studentId, scope.today],
  );
  return rows.map((row) => ({
    ...{ personId: row.person_id, givenName: row.given_name, email: row.email, schoolName: row.school_name },
    initials: row.initials ?? initialsOf(row.given, row.family),
  }));
}
