import { Link, Outlet, useSearchParams } from "react-router";
import { enter } from "#server/access/enter.ts";
import { listEntries } from "#server/db/entries.ts";
import { findStudent, listGoals } from "#server/db/students.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { Margin, MarginLink } from "#app/ui/margin.tsx";
import { reportLines } from "#app/ui/report-lines.ts";
import type { Route } from "./+types/student";

const marginLength = 40;

export function loader({ request, context, params }: Route.LoaderArgs) {
  return enter(request, context, "student.read", params.studentId, async (visit) => {
    const student = await findStudent(visit, params.studentId);
    const goals = await listGoals(visit, params.studentId);
    const entries = await listEntries(visit, params.studentId, { limit: marginLength });
    return { student, lines: reportLines(entries, goals) };
  });
}

export default function StudentPage({ loaderData: { student, lines } }: Route.ComponentProps) {
  const [search] = useSearchParams();
  return (
    <div className="page-with-margin min-w-0">
      <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
        <title>{`${student.initials} · Gentle Margin`}</title>
        <header className="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-base-300 pb-4">
          <h1 className="font-serif text-[1.7rem] leading-tight font-semibold">{student.name}</h1>
          <p className="text-fine text-soft">
            {[
              student.grade && `grade ${student.grade}`,
              student.iepTo && `IEP to ${dateWithYear(student.iepTo)}`,
            ]
              .filter(Boolean)
              .join(" · ")}
          </p>
          <Link to={`/students/${student.studentId}/report`} className="btn btn-plain no-print ml-auto">
            Report
          </Link>
        </header>
        <Outlet />
        <MarginLink count={lines.length} more={lines.length === marginLength} arrived={search.has("saved")} />
      </main>
      <Margin
        calledName={student.calledName}
        studentId={student.studentId}
        lines={lines}
        savedId={search.get("saved")}
      />
    </div>
  );
}
