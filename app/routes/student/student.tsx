import { Form, Link, Outlet, useSearchParams } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import { findStudent, listAbsences, listGoals } from "#server/db/students.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { Margin, MarginLink } from "#app/ui/margin.tsx";
import { notForTheQuery } from "#app/ui/same-page.ts";
import { composeLog } from "#core/report/compose-log.ts";
import { linesOf } from "#core/report/document.ts";
import { listSentOut } from "#server/db/message-lists.ts";
import { readReport } from "#server/db/report.ts";
import { SavedNotice } from "./saved-notice.tsx";
import type { Route } from "./+types/student";

const marginLength = 40;

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "student.read", params.studentId, async (scope) => {
    const student = await findStudent(scope, params.studentId);
    const goals = await listGoals(scope, params.studentId);
    const today = scope.today;
    const part = await readReport(scope, params.studentId, { limit: marginLength });
    return {
      student,
      sentOut: (await listSentOut(scope, params.studentId, 1))[0] ?? null,
      lines: linesOf({ sections: [composeLog({ goals, ...part })] }),
      absentToday: (await listAbsences(scope, params.studentId)).includes(today),
      mayEdit: may(scope.actor, "student.edit", { circleRole: scope.circleRole }),
      mayMark: may(scope.actor, "absence.mark", { circleRole: scope.circleRole }),
    };
  });
}

export const shouldRevalidate = notForTheQuery;

export default function StudentPage({
  loaderData: { student, sentOut, lines, absentToday, mayEdit, mayMark },
}: Route.ComponentProps) {
  const [search] = useSearchParams();
  // A correction is not undone by removing its entry.
  const saved = lines.find(
    ({ entryId, revision, page }) =>
      entryId === search.get("saved") && revision === 1 && page.startsWith("entries/"),
  );
  return (
    <div className="page-with-margin min-w-0">
      <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
        <header className="flex flex-wrap items-center gap-x-4 gap-y-2 border-b border-base-300 pb-4">
          <p className="font-serif text-[1.7rem] leading-tight font-semibold">
            <Link to={`/students/${student.studentId}`} className="no-underline" dir="auto">
              {student.name}
            </Link>
          </p>
          <p className="text-fine text-soft">
            {[
              student.grade && `grade ${student.grade}`,
              student.iepTo && `IEP to ${dateWithYear(student.iepTo)}`,
            ]
              .filter(Boolean)
              .join(" · ")}
          </p>
          <div className="no-print ml-auto flex flex-wrap items-center gap-2">
            {mayEdit ? (
              <Link to={`/students/${student.studentId}/edit`} className="btn btn-plain">
                Details
              </Link>
            ) : null}
            <Link to={`/students/${student.studentId}/circle`} className="btn btn-plain">
              Circle
            </Link>
            <Link to={`/students/${student.studentId}/family`} className="btn btn-plain">
              Family
            </Link>
            <Link to={`/students/${student.studentId}/incidents`} className="btn btn-plain">
              Incidents
            </Link>
            <Link to={`/students/${student.studentId}/report`} className="btn btn-plain">
              Report
            </Link>
            <MarginLink
              count={lines.length}
              more={lines.length === marginLength}
              arrived={search.has("saved")}
            />
          </div>
        </header>
        {saved ? <SavedNotice key={saved.entryId} line={saved} studentId={student.studentId} /> : null}
        {absentToday ? (
          <Form
            method="post"
            action={`/students/${student.studentId}/absent-today`}
            className="mt-3 flex flex-wrap items-center gap-3 rounded-lg bg-arrival px-4 py-2"
          >
            <p role="status">Absent today: nothing is due.</p>
            {mayMark ? (
              <button className="btn btn-plain btn-sm" name="absent" value="no">
                Here after all
              </button>
            ) : null}
          </Form>
        ) : null}
        <Outlet context={student.initials} />
      </main>
      <Margin
        calledName={student.calledName}
        studentId={student.studentId}
        lines={lines}
        sentOut={sentOut}
        savedId={search.get("saved")}
      />
    </div>
  );
}
