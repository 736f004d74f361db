import { Link, redirect } from "react-router";
import { periodToWrite } from "#core/schedule/report-week.ts";
import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import type { Route } from "./+types/start";

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "caseload.read", null, async (scope) => {
    const calendar = await readCalendar(scope);
    const period = periodToWrite(calendar, scope.today);
    if (period) throw redirect(`/progress-reports/${period.fromOn}`);
    const mayEdit = may(scope.actor, "school.edit", { circleRole: null });
    return { mayEdit, hasPeriods: calendar.reportingPeriods.length > 0 };
  });
}

/** Leads to the reporting period whose statements are written now; says so where there is none. */
export default function NoPeriod({ loaderData: { mayEdit, hasPeriods } }: Route.ComponentProps) {
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <header className="border-b border-base-300 pb-2">
        <PageTitle title="Progress reports" />
      </header>
      <EmptyState
        title={hasPeriods ? "No reporting period has begun" : "The school has no reporting periods"}
      >
        <p>
          Progress statements are written for a reporting period: a trimester, a quarter or a semester.{" "}
          {mayEdit ? (
            <Link className="link" to="/school/calendar">
              {hasPeriods ? "Check the calendar" : "Add the periods to the calendar"}
            </Link>
          ) : (
            "An administrator or a case manager adds them to the school’s calendar."
          )}
        </p>
      </EmptyState>
    </main>
  );
}
