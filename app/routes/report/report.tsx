import { Link } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { readReport } from "#server/db/report.ts";
import { findStudent, listGoals } from "#server/db/students.ts";
import { composeReport } from "#core/report/compose-report.ts";
import { linesOf } from "#core/report/document.ts";
import { useArrivals } from "#app/ui/arrivals.ts";
import { lastHeading, ReportBlocks } from "#app/ui/report-blocks.tsx";
import { OlderLines } from "./older-lines.tsx";
import { reportLength } from "./report-length.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import type { Route } from "./+types/report";

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "report.read", params.studentId, async (scope) => {
    const { studentId } = params;
    const student = await findStudent(scope, studentId);
    const goals = await listGoals(scope, studentId);
    const all = new URL(request.url).searchParams.has("all");
    const { record, order, next } = await readReport(scope, studentId, { limit: all ? null : reportLength });
    const { actor, today } = scope;
    return {
      studentId,
      initials: student.initials,
      report: composeReport({
        ...{ student, goals, record, order, today },
        schoolName: actor.schoolName,
        calendar: await readCalendar(scope),
      }),
      next,
    };
  });
}

export default function Report({ loaderData: { studentId, initials, report, next } }: Route.ComponentProps) {
  const arrived = useArrivals(
    linesOf(report).map((line) => line.entryId),
    null,
  );
  return (
    <main id="page" className="page-body min-w-0 px-8 py-6 max-sm:px-4">
      <div className="mx-auto max-w-[46rem] font-serif" lang={report.language}>
        <header className="border-b border-base-300 pb-4">
          <div className="flex flex-wrap items-start justify-between gap-3">
            <div>
              <PageTitle title="Report" of={initials} className="text-[1.7rem] leading-tight font-semibold">
                {report.title}
              </PageTitle>
              <p className="mt-1 text-soft">{report.about.join(" · ")}</p>
            </div>
            <Link to={`/students/${studentId}`} className="btn btn-plain no-print font-sans">
              To the goals
            </Link>
          </div>
        </header>
        {report.sections.map(({ name, label, blocks }) =>
          name === "log" ? (
            <section key={name} aria-label={label} className="mt-6">
              <div aria-live="polite" aria-relevant="additions">
                <ReportBlocks studentId={studentId} blocks={blocks} arrived={arrived} />
              </div>
              {next ? (
                <OlderLines key={next} studentId={studentId} before={next} after={lastHeading(blocks)} />
              ) : null}
            </section>
          ) : (
            <section key={name} aria-label={label}>
              <ReportBlocks studentId={studentId} blocks={blocks} />
            </section>
          ),
        )}
      </div>
    </main>
  );
}
