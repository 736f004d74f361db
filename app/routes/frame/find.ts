import { enter } from "#server/access/enter.ts";
import { may } from "#server/access/table.ts";
import { listCaseloadGoals, listStudents } from "#server/db/students.ts";
import type { Route } from "./+types/find";

/** What the palette can find: the person's students and their goals. */
export function loader({ request, context }: Route.LoaderArgs) {
  return enter(request, context, "palette.read", null, async (visit) => {
    const students = await listStudents(visit);
    const goals = await listCaseloadGoals(visit);
    return {
      mayAddStudents: may(visit.person, "student.add", { part: null }),
      mayEditSchool: may(visit.person, "school.edit", { part: null }),
      mayCount: may(visit.person, "school.patterns", { part: null }),
      students: students.map(({ studentId, name, initials }) => ({ studentId, name, initials })),
      goals: goals.map(({ studentId, goalId, number, title }) => ({ studentId, goalId, number, title })),
    };
  });
}
