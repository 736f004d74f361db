import { useEffect } from "react";
import { Link, Outlet, useLocation, useNavigate, useParams, useSearchParams } from "react-router";
import { shortDate } from "#core/words/dates.ts";
import { authorize } from "#server/access/authorize.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import { notForTheQuery } from "#app/ui/same-page.ts";
import { walk } from "#app/ui/walk.ts";
import { readStatementWeek } from "./read-week.server.ts";
import { StateMark } from "./state-mark.tsx";
import { countOfShow, nextToWrite, readShow, shownOf, shows, type WeekGoal } from "./week-goal.ts";
import { followsStudents } from "#app/live/what-is-read.ts";
import type { Route } from "./+types/progress-reports";

export const handle = followsStudents;

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "caseload.read", null, (scope) => readStatementWeek(scope, params.from));
}

export const shouldRevalidate = notForTheQuery;

/** What the open statement needs to know of the page. */
export interface Week {
  period: string;
  /** The page without a statement. */
  here: string;
  /** The goal that is written next; null where none is left. */
  next: { studentId: string; goalId: string } | null;
}

/** Where the state of a goal's statement is not all: what the numbers ask, and from whom it is awaited. */
const asides = ({ state, isNewer, reached, behind, noData, with: other }: WeekGoal): string[] => [
  ...(other && state !== "ready" ? [`with ${other}`] : []),
  ...(isNewer ? ["new entries since"] : []),
  ...(noData ? ["no data"] : []),
  ...(reached ? ["reached, confirm?"] : []),
  ...(behind ? ["behind"] : []),
];

function GoalCell({ goal, to, isOpen }: { goal: WeekGoal; to: string; isOpen: boolean }) {
  return (
    <Link
      to={to}
      data-goal
      id={`goal-${goal.goalId}`}
      className="week-goal"
      aria-current={isOpen ? "true" : undefined}
      preventScrollReset
    >
      <span className="block truncate" dir="auto" title={goal.title}>
        <b>{goal.number}</b> {goal.title}
      </span>
      <span className="flex min-w-0 items-baseline gap-1.5 text-soft">
        <StateMark state={goal.state} isEmpty={goal.noData} />
        <span className="min-w-0">{[goal.state, ...asides(goal)].join(" · ")}</span>
      </span>
    </Link>
  );
}

/** What is written, drafted and missing of a reporting period, by student and goal. */
export default function ProgressReports({
  loaderData: { period, periods, students, leads },
  params: { from },
}: Route.ComponentProps) {
  const show = readShow(useSearchParams()[0]);
  const { studentId, goalId } = useParams();
  const location = useLocation();
  const { search } = location;
  const navigate = useNavigate();
  const shown = shownOf(students, show);
  const here = `/progress-reports/${from}`;
  const all = students.flatMap(({ goals }) => goals);
  const ready = all.filter((goal) => goal.state === "ready").length;
  const drafted = all.filter((goal) => goal.state === "drafted").length;
  const others = all.filter((goal) => goal.state !== "ready" && goal.with).length;
  const open = students.find((student) => student.studentId === studentId);
  // Closing a statement leads back to its goal.
  const closed = (location.state as { goal?: string } | null)?.goal;
  useEffect(() => {
    if (closed && !goalId) document.getElementById(`goal-${closed}`)?.focus();
  }, [closed, goalId]);
  return (
    <main id="page" className="page-with-statement min-w-0">
      <div className="page-body min-w-0 px-8 py-5 max-sm:px-4">
        <header className="flex flex-wrap items-baseline gap-x-4 gap-y-1 border-b border-base-300 pb-2">
          <PageTitle
            title={open ? "Progress statement" : "Progress reports"}
            of={open ? open.initials : undefined}
          >
            Progress reports
          </PageTitle>
          <p className="text-fine text-soft">
            {periods.length > 1 ? (
              <select
                aria-label="Reporting period"
                className="select no-print mr-2 h-9 w-auto pr-8 text-fine"
                value={from}
                onChange={({ target }) => void navigate(`/progress-reports/${target.value}`)}
              >
                {periods.map(({ name, fromOn }) => (
                  <option key={fromOn} value={fromOn}>
                    {name}
                  </option>
                ))}
              </select>
            ) : (
              <>{period.name} · </>
            )}
            {period.isOver ? "ended" : "ends"} {shortDate(period.toOn)} ·{" "}
            <Link className="link no-print" to={`/packets?of=reports&span=period-${from}`}>
              Hand them out
            </Link>
          </p>
          <p className="ml-auto" role="status">
            <b>{ready} ready</b> · {drafted} drafted
            {others > 0 ? ` · ${others} with others` : ""}
          </p>
        </header>
        {all.length === 0 ? (
          <EmptyState title="No statement to write">
            <p>
              {leads
                ? "No goal of your students was open in this reporting period."
                : "The case manager chooses who writes the statements of a goal. The goals chosen for you appear here."}
            </p>
          </EmptyState>
        ) : (
          <div className="week-list">
            <nav aria-label="Which goals" className="no-print mt-2 flex flex-wrap gap-x-4 text-fine">
              {shows.map(([key, words]) => {
                const n = countOfShow(students, key);
                return n === 0 && key !== show ? null : (
                  <Link
                    key={key}
                    className="page-tab"
                    to={key ? `?show=${key}` : "?"}
                    aria-current={key === show ? "page" : undefined}
                    preventScrollReset
                  >
                    {words} {n}
                  </Link>
                );
              })}
            </nav>
            {shown.length === 0 ? (
              <EmptyState title="None of these">
                <p>
                  {show === "write"
                    ? "Everything that is yours to write is ready."
                    : "No goal of this period is like this. Choose “all” to see every goal."}
                </p>
              </EmptyState>
            ) : null}
            <ul onKeyDown={walk} aria-label="Students and goals" className="mt-1">
              {shown.map((student) => (
                <li
                  key={student.studentId}
                  className={`grid grid-cols-[10.9rem_1fr] items-center gap-x-2 border-b border-base-300 py-0.5 max-md:grid-cols-1 ${student.studentId === studentId ? "bg-arrival" : ""}`}
                >
                  <Link
                    to={`/students/${student.studentId}/report?span=period-${from}`}
                    className="truncate rounded-lg px-2 py-1 font-serif font-semibold no-underline hover:bg-base-200"
                    title={`${student.name}: report of ${period.name}`}
                    dir="auto"
                  >
                    {student.name}
                  </Link>
                  <div className="week-goals">
                    {student.goals.map((goal) => (
                      <GoalCell
                        key={goal.goalId}
                        goal={goal}
                        to={`${here}/${student.studentId}/${goal.goalId}${search}`}
                        isOpen={goal.goalId === goalId}
                      />
                    ))}
                  </div>
                </li>
              ))}
            </ul>
            <p className="with-scripts no-print mt-3 text-fine text-soft max-sm:hidden">
              <kbd className="font-sans font-bold">↓</kbd> <kbd className="font-sans font-bold">↑</kbd>{" "}
              student · <kbd className="font-sans font-bold">←</kbd>{" "}
              <kbd className="font-sans font-bold">→</kbd> goal ·{" "}
              <kbd className="font-sans font-bold">Enter</kbd> opens ·{" "}
              <kbd className="font-sans font-bold">Ctrl</kbd> <kbd className="font-sans font-bold">Enter</kbd>{" "}
              ready, next · <kbd className="font-sans font-bold">Esc</kbd> back to the goals
            </p>
          </div>
        )}
      </div>
      <Outlet
        context={
          {
            period: period.name,
            here: here + search,
            next: goalId ? nextToWrite(shown, goalId) : null,
          } satisfies Week
        }
      />
    </main>
  );
}
