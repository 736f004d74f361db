import { Link } from "react-router";
import { groupBy } from "#core/group-by.ts";
import { enter } from "#server/access/enter.ts";
import { may } from "#server/access/table.ts";
import { schoolNow } from "#server/db/school-time.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { listDue, listRecentAbsences } from "#server/db/due.ts";
import { listCaseloadGoals, listStudents } from "#server/db/students.ts";
import { goalStanding } from "#core/progress/goal-figures.ts";
import { isQuiet } from "#core/schedule/due-data.ts";
import { daysAgo, longDate } from "#core/words/dates.ts";
import { unitOf } from "#core/measures/measure.ts";
import { scoreWords } from "#core/words/amounts.ts";
import { plural } from "#core/words/numbers.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { DueDot } from "#app/ui/due-dot.tsx";
import { SparkLine } from "#app/ui/spark-line.tsx";
import { StandingMark } from "#app/ui/standing-mark.tsx";
import type { Route } from "./+types/caseload";

export function loader({ request, context }: Route.LoaderArgs) {
  return enter(request, context, "caseload.read", null, async (visit) => {
    const students = await listStudents(visit);
    const goals = (await listCaseloadGoals(visit)).filter(({ ended }) => ended === null);
    const today = (await schoolNow(visit.trx, visit.person.timeZone)).slice(0, 10);
    const calendar = await readCalendar(visit);
    const absences = await listRecentAbsences(visit, today);
    const due = new Set(
      (await listDue(visit, calendar, today)).flatMap((one) => (one.due.state === "today" ? one.goalId : [])),
    );
    const byStudent = groupBy(
      goals.map(({ goalId, studentId, number, title, measure, setup, summary }) => ({
        goalId,
        studentId,
        number,
        title,
        standing: summary && goalStanding(summary, setup, { lastOn: summary.last?.date, today }),
        criterion: setup.criterion?.value ?? null,
        unit: unitOf(measure),
        quiet: isQuiet(summary?.last?.date ?? null, today, calendar, absences.get(studentId)),
        dueToday: due.has(goalId),
        recent: summary?.recent ?? [],
        last: summary?.last
          ? {
              figure: scoreWords({ ...summary.last, unit: unitOf(measure) }),
              when: daysAgo(summary.last.date, today),
            }
          : null,
      })),
      (goal) => goal.studentId,
    );
    return {
      today,
      mayAdd: may(visit.person, "student.add", { part: null }),
      students: students.map((student) => ({ ...student, goals: byStudent.get(student.studentId) ?? [] })),
    };
  });
}

type CaseloadGoal = Awaited<ReturnType<typeof loader>>["students"][number]["goals"][number];

function GoalCell({ goal }: { goal: CaseloadGoal }) {
  return (
    <Link
      to={`/students/${goal.studentId}/goals/${goal.goalId}`}
      className="grid min-w-0 grid-cols-[2rem_1fr_auto] items-center gap-x-2 rounded-lg px-2 py-1 no-underline hover:bg-base-200"
      title={goal.dueToday ? `${goal.title}: data due today` : goal.title}
    >
      <span className="font-serif text-lg leading-none font-semibold">{goal.number}</span>
      <span className="min-w-0">
        <span className="flex items-center gap-2 text-fine leading-tight">
          {goal.dueToday ? <DueDot /> : null}
          <span className="truncate">{goal.title}</span>
          {goal.quiet && goal.last ? <span className="shrink-0 text-soft">{goal.last.when}</span> : null}
        </span>
        <span className="flex items-center gap-1.5 text-fine leading-tight">
          {goal.standing ? <StandingMark standing={goal.standing} wordless /> : null}
          <span className="shrink-0 font-bold">{goal.last?.figure ?? "not measured yet"}</span>
        </span>
      </span>
      <SparkLine recent={goal.recent} criterion={goal.criterion} unit={goal.unit} width={72} height={26} />
    </Link>
  );
}

function overview(goals: CaseloadGoal[], students: number): string {
  const behind = goals.filter((goal) => goal.standing?.key === "behind").length;
  const quiet = goals.filter((goal) => goal.quiet).length;
  const due = goals.filter((goal) => goal.dueToday).length;
  return [
    `${students} ${plural(students, "student")}, ${goals.length} ${plural(goals.length, "goal")}`,
    behind > 0 ? `${behind} behind the line` : "none behind the line",
    due > 0 ? `${due} due today` : "nothing due today",
    quiet > 0 ? `${quiet} without an entry for two school weeks` : "every goal measured within two weeks",
  ].join(" · ");
}

export default function Caseload({ loaderData: { students, today, mayAdd } }: Route.ComponentProps) {
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <title>Caseload · Gentle Margin</title>
      <header className="mb-3 flex flex-wrap items-baseline gap-x-4 border-b border-base-300 pb-3">
        <h1 className="font-serif text-[1.7rem] leading-tight font-semibold">Caseload</h1>
        <p className="text-fine text-soft">{longDate(today)}</p>
        {students.length > 0 ? (
          <p className="ml-auto text-fine text-soft max-sm:ml-0">
            {overview(
              students.flatMap((student) => student.goals),
              students.length,
            )}
          </p>
        ) : null}
      </header>
      {students.length === 0 ? (
        <EmptyState title="No students yet">
          <p>You see the students in whose circle you are. The case manager brings you in.</p>
          <p>
            A new school brings its roster and its earlier data in with one command; the operations guide has
            it under “bring-in”.
          </p>
        </EmptyState>
      ) : (
        <ul>
          {students.map((student) => (
            <li
              key={student.studentId}
              className="grid grid-cols-[10.5rem_1fr] items-center gap-x-3 border-b border-base-300 py-px max-md:grid-cols-1"
            >
              <Link
                to={`/students/${student.studentId}`}
                className="rounded-lg px-2 py-1 no-underline hover:bg-base-200"
              >
                <span className="block font-serif leading-tight font-semibold">{student.name}</span>
                <span className="text-fine text-soft">
                  {student.grade ? `grade ${student.grade}` : student.initials}
                </span>
              </Link>
              {student.goals.length === 0 ? (
                <p className="px-2 py-2 text-fine text-soft">No goals under way.</p>
              ) : (
                <div className="grid grid-cols-[repeat(auto-fill,minmax(min(100%,17.5rem),1fr))]">
                  {student.goals.map((goal) => (
                    <GoalCell key={goal.goalId} goal={goal} />
                  ))}
                </div>
              )}
            </li>
          ))}
        </ul>
      )}
      <p className="no-print mt-3 flex gap-2">
        {mayAdd ? (
          <Link className="btn btn-plain btn-sm" to="/students/new">
            New student
          </Link>
        ) : null}
        <Link className="btn btn-plain btn-sm" to="/school/calendar">
          The school
        </Link>
      </p>
    </main>
  );
}
