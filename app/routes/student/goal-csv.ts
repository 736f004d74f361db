import { goalPoints } from "#core/progress/goal-figures.ts";
import { seriesFile } from "#core/progress/series-file.ts";
import { authorize } from "#server/access/authorize.ts";
import { notFound } from "#server/errors.ts";
import { figuresOf, listGoalEntries } from "#server/db/entry-lists.ts";
import { listGoals } from "#server/db/students.ts";
import { csvOf } from "#app/ui/csv.server.ts";
import { goalFileName, observersOf } from "./goal-says.server.ts";
import type { Route } from "./+types/goal-csv";

/** The points of a goal as the figures command reads them. */
export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "student.read", params.studentId, async (scope) => {
    const goal =
      (await listGoals(scope, params.studentId)).find(({ goalId }) => goalId === params.goalId) ?? notFound();
    const entries = await listGoalEntries(scope, goal.goalId);
    const name = goalFileName(goal);
    const points = goalPoints(goal.setup, figuresOf(goal, entries));
    const { head, rows } = seriesFile(goal.setup, points, name, observersOf(entries));
    return csvOf({ head, rows: rows.map((cells) => ({ cells })) }, name);
  });
}
