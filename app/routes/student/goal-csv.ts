import { axisTitle } from "#core/chart/axis-title.ts";
import { goalFileName } from "#core/chart/legend.ts";
import { askOf } from "#core/progress/goal-figures.ts";
import { goalSeries } from "#core/progress/points.ts";
import { seriesFile } from "#core/progress/series-file.ts";
import { authorize } from "#server/access/authorize.ts";
import { notFound } from "#server/errors.ts";
import { listGoalEntries } from "#server/db/entry-lists.ts";
import { figuresOf } from "#core/progress/figures-of.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { listDecisions } from "#server/db/decisions.ts";
import { findStudent, listAbsences, listGoals } from "#server/db/students.ts";
import { csvOf } from "#app/ui/csv.server.ts";
import { observersOf } from "#core/progress/observers-of.ts";
import { taughtOn } from "#core/progress/taught-on.ts";
import { nameInFiles } from "./goal-says.server.ts";
import type { Route } from "./+types/goal-csv";

/** The points of a goal as the figures command reads them. */
export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "student.read", params.studentId, async (scope) => {
    const goal =
      (await listGoals(scope, params.studentId)).find(({ goalId }) => goalId === params.goalId) ?? notFound();
    const entries = await listGoalEntries(scope, goal.goalId);
    const student = await findStudent(scope, params.studentId);
    const name = goalFileName(student, goal.number);
    const series = goalSeries(goal.setup, figuresOf(goal, entries), scope.today);
    const decisions = await listDecisions(scope, params.studentId);
    const asked = askOf(goal.setup, {
      ...{ lastOn: series.all.at(-1)?.date ?? null, today: scope.today, calendar: await readCalendar(scope) },
      absences: await listAbsences(scope, params.studentId),
      taughtOn: taughtOn(decisions.filter((one) => one.goalId === goal.goalId && one.removed === null)),
    });
    const { head, rows } = seriesFile(goal.setup, series, name, observersOf(entries), asked);
    const whose = [
      nameInFiles(student, request),
      `${goal.number} ${goal.title}`,
      axisTitle(goal.measure, series.unit),
    ];
    return csvOf(
      {
        head: [...head, "student", "goal", "value is"],
        rows: rows.map((cells) => ({ cells: [...cells, ...whose] })),
      },
      name,
    );
  });
}
