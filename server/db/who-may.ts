import type { PersonScope } from "../access/scope.ts";
import { type Permission, permissions } from "../access/table.ts";

/**
 * Who may do what this person may not, by name, for the page that says no: of a student, those of the circle; of the school, its
 * administrators and case managers. Both are names that the person sees elsewhere.
 */
export async function whoMay(scope: PersonScope, permission: Permission): Promise<string[]> {
  const { trx, schoolId, studentId } = scope;
  const allowed: readonly string[] = permissions[permission];
  const { rows } = await trx.raw<{ rows: { name: string }[] }>(
    `select p.given_name || ' ' || p.family_name as name from people p
     where p.school_id = :schoolId and p.left_on is null and case when :studentId::uuid is null
       then (p.role = 'administrator' and 'administrator' = any(:allowed)) or (p.case_manager and 'case manager' = any(:allowed))
       else exists (select 1 from circle c where c.school_id = p.school_id and c.person_id = p.person_id
         and c.student_id = :studentId::uuid and c.part = any(:allowed) and in_circle_now(c.from_on, c.to_on)) end
     order by p.given_name, p.family_name limit 5`,
    { schoolId, studentId, allowed: [...allowed] },
  );
  return rows.map(({ name }) => name);
}
