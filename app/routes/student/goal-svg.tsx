import { renderToStaticMarkup } from "react-dom/server";
import { enter } from "#server/access/enter.ts";
import { notFound } from "#server/access/visit.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { listGoals } from "#server/db/students.ts";
import { chartFile } from "#app/ui/chart-file.ts";
import { ProgressChartSvg } from "#app/ui/progress-chart.tsx";
import { goalFileName } from "./goal-says.server.ts";
import { readOpenGoal } from "./read-open-goal.server.ts";
import type { Route } from "./+types/goal-svg";

/** The chart of a goal as a drawing that stands by itself: for a document or a poster. */
export function loader({ request, context, params }: Route.LoaderArgs) {
  const { studentId, goalId } = params;
  return enter(request, context, "student.read", studentId, async (visit) => {
    const goals = await listGoals(visit, studentId);
    const goal = goals.find((one) => one.goalId === goalId) ?? notFound();
    const { chart, description } = await readOpenGoal(visit, goal, goals, {
      today: visit.today,
      calendar: await readCalendar(visit),
      scale: new URL(request.url).searchParams.get("axis") === "log" ? "log" : "linear",
    });
    if (!chart) notFound();
    const drawn = renderToStaticMarkup(<ProgressChartSvg chart={chart} description={description} />);
    return new Response(chartFile(drawn), {
      headers: {
        "Content-Type": "image/svg+xml; charset=utf-8",
        "Content-Disposition": `attachment; filename="${goalFileName(goal)}.svg"`,
        "Cache-Control": "no-store",
      },
    });
  });
}
