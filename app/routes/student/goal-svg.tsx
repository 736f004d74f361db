import { renderToStaticMarkup } from "react-dom/server";
import { authorize } from "#server/access/authorize.ts";
import { notFound } from "#server/errors.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { goalFileName, headWords, legendOf } from "#core/chart/legend.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { findStudent, listGoals } from "#server/db/students.ts";
import { chartFile } from "#app/ui/chart-file.ts";
import { ProgressChartSvg } from "#app/ui/progress-chart.tsx";
import { nameInFiles } from "./goal-says.server.ts";
import { readOpenGoal } from "./read-open-goal.server.ts";
import type { Route } from "./+types/goal-svg";

/** The chart of a goal as a drawing that stands by itself: for a document or a poster. */
export function loader({ request, context, params }: Route.LoaderArgs) {
  const { studentId, goalId } = params;
  return authorize(request, context, "student.read", studentId, async (scope) => {
    const goals = await listGoals(scope, studentId);
    const goal = goals.find((one) => one.goalId === goalId) ?? notFound();
    const { chart, description } = await readOpenGoal(scope, goal, goals, {
      today: scope.today,
      calendar: await readCalendar(scope),
      scale: new URL(request.url).searchParams.get("axis") === "log" ? "log" : "linear",
    });
    if (!chart) notFound();
    const drawn = renderToStaticMarkup(<ProgressChartSvg chart={chart} description={description} />);
    const student = await findStudent(scope, studentId);
    const head = headWords({
      ...{ student: nameInFiles(student, request), goal: `${goal.number} ${goal.title}` },
      on: dateWithYear(scope.today),
    });
    return new Response(chartFile(drawn, head, legendOf(chart)), {
      headers: {
        "Content-Type": "image/svg+xml; charset=utf-8",
        "Content-Disposition": `attachment; filename="${goalFileName(student, goal.number)}.svg"`,
        "Cache-Control": "no-store",
      },
    });
  });
}
