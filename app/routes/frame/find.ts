import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import { listCaseloadGoals, listStudents } from "#server/db/students.ts";
import { noteReads } from "#server/db/reads.ts";
import type { Route } from "./+types/find";

/** What the palette can find: the person's students and their goals. */
export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "palette.read", null, async (scope) => {
    const students = await listStudents(scope);
    await noteReads(
      scope,
      "caseload",
      students.map(({ studentId }) => studentId),
    );
    const goals = await listCaseloadGoals(scope);
    return {
      mayAddStudents: may(scope.actor, "student.add", { circleRole: null }),
      mayEditSchool: may(scope.actor, "school.edit", { circleRole: null }),
      mayCount: may(scope.actor, "school.patterns", { circleRole: null }),
      students: students.map(({ studentId, name, initials }) => ({ studentId, name, initials })),
      goals: goals.map(({ studentId, goalId, number, title }) => ({ studentId, goalId, number, title })),
    };
  });
}
