import { askOf, goalPoints } from "#core/progress/goal-figures.ts";
import { seriesFile } from "#core/progress/series-file.ts";
import { authorize } from "#server/access/authorize.ts";
import { notFound } from "#server/errors.ts";
import { figuresOf, listGoalEntries } from "#server/db/entry-lists.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { listDecisions } from "#server/db/decisions.ts";
import { listAbsences, listGoals } from "#server/db/students.ts";
import { csvOf } from "#app/ui/csv.server.ts";
import { goalFileName, observersOf, taughtOn } from "./goal-says.server.ts";
import type { Route } from "./+types/goal-csv";

/** The points of a goal as the figures command reads them. */
export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "student.read", params.studentId, async (scope) => {
    const goal =
      (await listGoals(scope, params.studentId)).find(({ goalId }) => goalId === params.goalId) ?? notFound();
    const entries = await listGoalEntries(scope, goal.goalId);
    const name = goalFileName(goal);
    const points = goalPoints(goal.setup, figuresOf(goal, entries));
    const decisions = await listDecisions(scope, params.studentId);
    const asked = askOf(goal.setup, {
      ...{ lastOn: points.at(-1)?.date, today: scope.today, calendar: await readCalendar(scope) },
      absences: await listAbsences(scope, params.studentId),
      taughtOn: taughtOn(decisions.filter((one) => one.goalId === goal.goalId && one.removed === null)),
    });
    const { head, rows } = seriesFile(goal.setup, points, name, observersOf(entries), asked);
    return csvOf({ head, rows: rows.map((cells) => ({ cells })) }, name);
  });
}
