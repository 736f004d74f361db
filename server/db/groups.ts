import type { Meeting } from "#core/schedule/timetable.ts";
import { type PersonScope, requirePermission } from "../access/scope.ts";
import { recordEvent } from "./events.ts";
import { listStudents } from "./students.ts";

/** A group as one person may see it: of its students, those in whose circle they are. */
export interface Group {
  groupId: string;
  name: string;
  meets: Meeting[];
  studentIds: string[];
  /** The number of other students in it, whom this person may not see. */
  others: number;
}

/**
 * The groups of the school that are not retired, with the students in them who have not left.
 *
 * @param known the person's students, where they were read already
 */
export async function listGroups(
  scope: PersonScope,
  known?: readonly { studentId: string }[],
): Promise<Group[]> {
  const { trx, schoolId } = scope;
  const { rows } = await trx.raw<{
    rows: { group_id: string; name: string; meets: Meeting[]; members: string[]; others: number }[];
  }>(
    `select g.group_id, g.name, g.meets,
       coalesce((select jsonb_agg(m.student_id) from group_members m where m.school_id = g.school_id and m.group_id = g.group_id), '[]') as members,
       coalesce(o.others, 0) as others
     from groups g left join gate.others_in_groups() o on o.group_id = g.group_id where g.school_id = ? and g.retired_on is null order by g.name, g.group_id`,
    [schoolId],
  );
  // In the order of the spine.
  const students = (known ?? (await listStudents(scope))).map(({ studentId }) => studentId);
  return rows.map(({ group_id, name, meets, members, others }) => ({
    ...{ groupId: group_id, name, meets, others },
    studentIds: students.filter((studentId) => members.includes(studentId)),
  }));
}

/** The groups that are not retired, with all their students: for who says who is in a circle. */
export async function listGroupMembers({
  trx,
  schoolId,
}: PersonScope): Promise<{ groupId: string; name: string; studentIds: string[] }[]> {
  const { rows } = await trx.raw<{ rows: { group_id: string; name: string; members: string[] }[] }>(
    `select g.group_id, g.name, coalesce(jsonb_agg(m.student_id) filter (where m.student_id is not null), '[]') as members
     from groups g left join group_members m on m.school_id = g.school_id and m.group_id = g.group_id
     where g.school_id = ? and g.retired_on is null group by g.group_id, g.name order by g.name, g.group_id`,
    [schoolId],
  );
  return rows.map(({ group_id, name, members }) => ({ groupId: group_id, name, studentIds: members }));
}

/** Saves a group, new or changed. It changes only students in the person's circles. */
export async function saveGroup(scope: PersonScope, group: Omit<Group, "others">): Promise<void> {
  requirePermission(scope, "school.edit");
  const { trx, schoolId } = scope;
  await trx.raw(
    `insert into groups (school_id, group_id, name, meets) values (:schoolId, :groupId, :name, :meets)
     on conflict (school_id, group_id) do update set name = excluded.name, meets = excluded.meets, retired_on = null`,
    {
      schoolId,
      groupId: group.groupId,
      name: group.name,
      meets: JSON.stringify(group.meets),
    },
  );
  const mine = (await listStudents(scope)).map(({ studentId }) => studentId);
  await trx("group_members")
    .where({ school_id: schoolId, group_id: group.groupId })
    .whereIn("student_id", mine)
    .delete();
  const rows = group.studentIds
    .filter((studentId) => mine.includes(studentId))
    .map((student_id) => ({ school_id: schoolId, group_id: group.groupId, student_id }));
  if (rows.length > 0) await trx("group_members").insert(rows);
  await recordEvent(scope, { act: "saved", thing: "group", thingId: group.groupId, studentId: null });
}

/** The group meets no longer; what was recorded in it stays. */
export async function retireGroup(scope: PersonScope, groupId: string, today: string): Promise<void> {
  requirePermission(scope, "school.edit");
  await scope
    .trx("groups")
    .where({ school_id: scope.schoolId, group_id: groupId })
    .update({ retired_on: today });
  await recordEvent(scope, { act: "meets no longer", thing: "group", thingId: groupId, studentId: null });
}

/** Puts one student into just these groups. */
export async function saveMemberships(
  scope: PersonScope,
  studentId: string,
  groupIds: readonly string[],
): Promise<void> {
  requirePermission(scope, "student.edit");
  const { trx, schoolId } = scope;
  const key = { school_id: schoolId, student_id: studentId };
  await trx("group_members").where(key).delete();
  await trx.raw(
    `insert into group_members (school_id, group_id, student_id)
     select school_id, group_id, :studentId from groups
     where school_id = :schoolId and group_id = any(:groupIds) and retired_on is null`,
    { schoolId, studentId, groupIds: [...groupIds] },
  );
  await recordEvent(scope, { act: "groups changed", thing: "student", thingId: studentId, studentId });
}
