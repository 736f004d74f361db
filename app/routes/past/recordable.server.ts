import { groupBy } from "#core/group-by.ts";
import type { Measure } from "#core/measures/measure.ts";
import type { Visit } from "#server/access/visit.ts";
import { listGroups } from "#server/db/groups.ts";
import { listCaseloadGoals, listStudentsFor } from "#server/db/students.ts";

export interface RecordableGoal {
  goalId: string;
  number: string;
  title: string;
  wording: string;
  measure: Measure;
}

export interface RecordableStudent {
  studentId: string;
  name: string;
  screenName: string;
  goals: RecordableGoal[];
}

/**
 * The students for whom this person records, with their goals; narrowed to what the address names: `student`, `goal`,
 * or a `group`.
 */
export async function listRecordable(visit: Visit, search: URLSearchParams): Promise<RecordableStudent[]> {
  const students = await listStudentsFor(visit, "entry.record");
  const goals = groupBy(
    (await listCaseloadGoals(visit)).filter(({ ended }) => ended === null),
    ({ studentId }) => studentId,
  );
  const [student, goal, group] = [search.get("student"), search.get("goal"), search.get("group")];
  const members = group && (await listGroups(visit)).find(({ groupId }) => groupId === group)?.studentIds;
  return students
    .filter(
      ({ studentId }) =>
        (!student || studentId === student) && (!group || (members ?? "").includes(studentId)),
    )
    .map(({ studentId, name, screenName }) => ({
      studentId,
      name,
      screenName,
      goals: (goals.get(studentId) ?? [])
        .filter(({ goalId }) => !goal || goalId === goal)
        .map(({ goalId, number, title, wording, measure }) => ({ goalId, number, title, wording, measure })),
    }))
    .filter((one) => one.goals.length > 0);
}
