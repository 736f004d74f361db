import { shortName } from "#core/model/student-names.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { recordEvent } from "./events.ts";

export interface StaffContent {
  givenName: string;
  familyName: string;
  position: string;
  email: string | null;
  role: "administrator" | "staff";
  caseManager: boolean;
  leftOn: string | null;
}

export interface StaffMember extends StaffContent {
  personId: string;
}

/** Everyone who works or worked at the school; those who left stand last. */
export async function listStaff({ trx, schoolId }: Scope): Promise<StaffMember[]> {
  const { rows } = await trx.raw<{
    rows: {
      person_id: string;
      given_name: string;
      family_name: string;
      position: string;
      email: string | null;
      role: StaffMember["role"];
      case_manager: boolean;
      left_on: string | null;
    }[];
  }>(
    `select person_id, given_name, family_name, position, email, role, case_manager, left_on from people
     where school_id = ? order by left_on is not null, given_name, family_name, person_id`,
    [schoolId],
  );
  return rows.map((row) => ({
    personId: row.person_id,
    givenName: row.given_name,
    familyName: row.family_name,
    position: row.position,
    email: row.email,
    role: row.role,
    caseManager: row.case_manager,
    leftOn: row.left_on,
  }));
}

/** How a member of staff signs, those who have left too; empty where there is nobody of that id. */
export async function findStaffName({ trx, schoolId }: Scope, personId: string): Promise<string> {
  const row = await trx("people")
    .where({ school_id: schoolId, person_id: personId })
    .first("given_name", "family_name");
  return row ? shortName(row.given_name, row.family_name) : "";
}

/** Keeps a person of the school, new or changed. Whoever has left can no longer sign in; what they wrote stays theirs. */
export async function saveStaff(scope: PersonScope, { personId, ...content }: StaffMember): Promise<void> {
  requirePermission(scope, "staff.edit");
  await scope
    .trx("people")
    .insert({
      school_id: scope.schoolId,
      person_id: personId,
      given_name: content.givenName,
      family_name: content.familyName,
      position: content.position,
      email: content.email,
      role: content.role,
      case_manager: content.caseManager,
      left_on: content.leftOn,
    })
    .onConflict(["school_id", "person_id"])
    .merge(["given_name", "family_name", "position", "email", "role", "case_manager", "left_on"]);
  await recordEvent(scope, { act: "saved", thing: "person", thingId: personId, studentId: null });
}
