import { Link } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { findStudent, listGoals } from "#server/db/students.ts";
import { criterionWords } from "#core/criteria/criterion-words.ts";
import { goalStanding } from "#core/progress/goal-figures.ts";
import { dateWithYear, longDate } from "#core/words/dates.ts";
import { unitOf } from "#core/measures/measure.ts";
import { scoreWords } from "#core/words/amounts.ts";
import { useArrivals } from "#app/ui/arrivals.ts";
import { StandingMark } from "#app/ui/standing-mark.tsx";
import { OlderLines } from "./older-lines.tsx";
import { ReportDays } from "./report-days.tsx";
import { reportLength } from "./report-length.ts";
import { readReportLines } from "./report-lines.server.ts";
import type { Route } from "./+types/report";

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "report.read", params.studentId, async (scope) => {
    const student = await findStudent(scope, params.studentId);
    const goals = await listGoals(scope, params.studentId);
    const today = scope.today;
    const all = new URL(request.url).searchParams.has("all");
    return {
      student,
      school: scope.actor.schoolName,
      goals: goals.map(({ goalId, number, wording, measure, setup, summary }) => ({
        goalId,
        number,
        wording,
        criterion: setup.criterion && criterionWords(setup.criterion, measure),
        due: setup.dueOn && dateWithYear(setup.dueOn),
        standing: summary && goalStanding(summary, setup, { lastOn: summary.last?.date, today }),
        last: summary?.last
          ? `${scoreWords({ ...summary.last, unit: unitOf(measure) })} on ${longDate(summary.last.date)}`
          : null,
      })),
      ...(await readReportLines(scope, params.studentId, goals, { limit: all ? null : reportLength })),
    };
  });
}

export default function Report({
  loaderData: { student, school, goals, lines, next },
}: Route.ComponentProps) {
  const arrived = useArrivals(
    lines.map((line) => line.entryId),
    null,
  );
  return (
    <main id="page" className="page-body min-w-0 px-8 py-6 max-sm:px-4">
      <title>{`${student.initials} report · Gentle Margin`}</title>
      <div className="mx-auto max-w-[46rem] font-serif">
        <header className="border-b border-base-300 pb-4">
          <div className="flex flex-wrap items-start justify-between gap-3">
            <div>
              <h1 className="text-[1.7rem] leading-tight font-semibold">{student.name}</h1>
              <p className="mt-1 text-soft">
                {[
                  `Running report`,
                  school,
                  student.grade && `grade ${student.grade}`,
                  student.iepTo && `IEP to ${dateWithYear(student.iepTo)}`,
                ]
                  .filter(Boolean)
                  .join(" · ")}
              </p>
            </div>
            <Link to={`/students/${student.studentId}`} className="btn btn-plain no-print font-sans">
              To the goals
            </Link>
          </div>
        </header>
        <section aria-label="Goals">
          {goals.map((goal) => (
            <div key={goal.goalId} className="grid grid-cols-[3rem_1fr] border-b border-base-300 py-3">
              <p className="text-[1.35rem] leading-snug font-semibold">{goal.number}</p>
              <div>
                <p className="leading-relaxed break-words" dir="auto">
                  {goal.wording}
                </p>
                <p className="mt-1 flex flex-wrap items-baseline gap-x-3 font-sans text-[0.9rem]">
                  {goal.standing ? <StandingMark standing={goal.standing} /> : null}
                  <span className="text-soft">
                    {[
                      goal.last ?? "not measured yet",
                      goal.criterion && `criterion ${goal.criterion}`,
                      goal.due && `due ${goal.due}`,
                    ]
                      .filter(Boolean)
                      .join(" · ")}
                  </span>
                </p>
                {goal.standing ? (
                  <p className="mt-1 text-[0.95rem] leading-snug">{goal.standing.why}</p>
                ) : null}
              </div>
            </div>
          ))}
        </section>
        <section aria-label="Entries" className="mt-6">
          {lines.length === 0 ? (
            <p className="text-soft">No entries yet. Each one stands here from the moment it is saved.</p>
          ) : null}
          <div aria-live="polite" aria-relevant="additions">
            <ReportDays studentId={student.studentId} lines={lines} arrived={arrived} />
          </div>
          {next ? (
            <OlderLines
              key={next}
              studentId={student.studentId}
              before={next}
              after={lines.at(-1)?.on ?? null}
            />
          ) : null}
        </section>
      </div>
    </main>
  );
}
