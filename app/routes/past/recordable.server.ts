import { groupBy } from "#core/lists/group-by.ts";
import type { Measure } from "#core/measures/measure.ts";
import type { PersonScope } from "#server/access/scope.ts";
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
export async function listRecordable(
  scope: PersonScope,
  search: URLSearchParams,
): Promise<RecordableStudent[]> {
  const students = await listStudentsFor(scope, "entry.record");
  const goals = groupBy(
    (await listCaseloadGoals(scope)).filter(({ ended }) => ended === null),
    ({ studentId }) => studentId,
  );
  const [student, goal, group] = [search.get("student"), search.get("goal"), search.get("group")];
  const members = group && (await listGroups(scope)).find(({ groupId }) => groupId === group)?.studentIds;
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
