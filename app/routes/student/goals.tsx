import { v7 as newId } from "uuid";
import { Form, Link } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { notFound } from "#server/errors.ts";
import { may } from "#server/access/table.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { findEntry } from "#server/db/entry-lists.ts";
import { listGoals } from "#server/db/students.ts";
import { sparkLine } from "#core/chart/spark-line.ts";
import { unitOf } from "#core/measures/measure.ts";
import { judgeGoal } from "#core/progress/goal-figures.ts";
import { scoreWords } from "#core/words/amounts.ts";
import { daysAgo, shortDate } from "#core/words/dates.ts";
import { useForm } from "#app/kit/use-form.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { SparkLine } from "#app/ui/spark-line.tsx";
import { StandingMark } from "#app/ui/standing-mark.tsx";
import { decide } from "./decide.server.ts";
import { readOpenGoal } from "./read-open-goal.server.ts";
import { OpenGoalSection } from "./open-goal.tsx";
import { StudentTitle } from "#app/routes/student/student-title.tsx";
import type { Route } from "./+types/goals";

export const action = decide;

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "student.read", params.studentId, async (scope) => {
    // Goals that have ended stand last, however early they stood on their page.
    const goals = (await listGoals(scope, params.studentId)).sort(
      (a, b) => Number(a.ended !== null) - Number(b.ended !== null),
    );
    const wanted = params.goalId;
    const open = wanted ? (goals.find((goal) => goal.goalId === wanted) ?? notFound()) : goals[0];
    const scale = new URL(request.url).searchParams.get("axis") === "log" ? "log" : "linear";
    const removedId = new URL(request.url).searchParams.get("removed");
    const removed = isId(removedId) ? await findEntry(scope, params.studentId, removedId) : null;
    const today = scope.today;
    const calendar = await readCalendar(scope);
    return {
      ...{ today, decisionId: newId(), phaseId: newId() },
      mayRecord: may(scope.actor, "entry.record", { circleRole: scope.circleRole }),
      mayEdit: may(scope.actor, "goal.edit", { circleRole: scope.circleRole }),
      open: open ? await readOpenGoal(scope, open, goals, { today, calendar, scale }) : null,
      goals: goals.map(({ goalId, number, title, measure, parentId, ended, setup, summary }) => ({
        goalId,
        number,
        title,
        under: parentId !== null,
        ended: ended?.how ?? null,
        standing: summary && judgeGoal(summary, setup, { lastOn: summary.lastOn, today, calendar }).standing,
        shape: sparkLine(summary?.recent ?? [], {
          criterion: setup.criterion?.value ?? null,
          unit: unitOf(measure),
        }),
        last: summary?.last
          ? {
              figure: scoreWords({ ...summary.last, unit: unitOf(measure) }),
              when: daysAgo(summary.last.date, today),
            }
          : null,
      })),
      removed:
        removed?.state === "removed"
          ? {
              entryId: removed.entryId,
              revision: removed.revision,
              figure: scoreWords(removed.score),
              date: shortDate(removed.on),
            }
          : null,
    };
  });
}

type LoaderData = Awaited<ReturnType<typeof loader>>;

function RemovedNotice({
  removed,
  studentId,
}: {
  removed: NonNullable<LoaderData["removed"]>;
  studentId: string;
}) {
  return (
    <Form
      method="post"
      action={`/students/${studentId}/entries/${removed.entryId}`}
      className="mt-4 flex flex-wrap items-center gap-3 rounded-lg bg-arrival px-4 py-2"
      role="status"
    >
      <span>
        Removed: {removed.figure} of {removed.date}. It no longer counts and is no longer in the report.
      </span>
      <input type="hidden" name="intent" value="restore" />
      <input type="hidden" name="revision" value={removed.revision} />
      <button className="btn btn-plain btn-sm">Take that back</button>
    </Form>
  );
}

export default function Goals({
  loaderData: { goals, open, mayRecord, mayEdit, removed, today, decisionId, phaseId },
  actionData,
  params,
}: Route.ComponentProps) {
  const { studentId } = params;
  const { problems, typed } = useForm(actionData);
  if (!open) {
    return (
      <>
        <StudentTitle title="Goals" />
        <EmptyState title="No goals yet">
          <p>
            Once this student’s IEP goals are entered, each is listed here with its wording, chart, and
            standing.
          </p>
          {mayEdit ? (
            <p>
              <Link className="btn btn-primary font-sans" to={`/students/${studentId}/goals/new`}>
                Set up the first goal
              </Link>
            </p>
          ) : null}
        </EmptyState>
      </>
    );
  }
  return (
    <>
      {removed ? <RemovedNotice removed={removed} studentId={studentId} /> : null}
      <OpenGoalSection
        key={open.goalId}
        goal={open}
        studentId={studentId}
        mayRecord={mayRecord}
        mayEdit={mayEdit}
        deciding={{
          ...{ today, decisionId, phaseId },
          ...{ problems, typed },
        }}
      />
      <ul aria-label="Other goals">
        {goals
          .filter((goal) => goal.goalId !== open.goalId)
          .map((goal) => (
            <li key={goal.goalId} className="border-t border-base-300 last:border-b">
              <Link
                to={`/students/${studentId}/goals/${goal.goalId}`}
                className="grid min-h-13 grid-cols-[3.4rem_minmax(0,1fr)_8.5rem_8.5rem_11rem] items-center gap-x-3 py-1.5 no-underline hover:bg-base-200 max-lg:grid-cols-[3.4rem_minmax(0,1fr)_9rem] max-sm:grid-cols-[2.6rem_1fr]"
              >
                <span className="font-serif text-[1.35rem] font-semibold">{goal.number}</span>
                <span
                  className={`truncate ${goal.under ? "pl-5" : ""} ${goal.ended ? "text-soft" : ""}`}
                  dir="auto"
                >
                  {goal.title}
                  {goal.ended ? <span className="text-fine"> ({goal.ended})</span> : null}
                </span>
                <span className="max-lg:hidden">
                  <SparkLine shape={goal.shape} />
                </span>
                <span className="max-sm:col-start-2">
                  <b>{goal.last?.figure ?? "not measured yet"}</b>
                  {goal.last ? <span className="block text-fine text-soft">{goal.last.when}</span> : null}
                </span>
                <span className="max-lg:col-start-2">
                  {goal.standing ? <StandingMark standing={goal.standing} /> : null}
                </span>
              </Link>
            </li>
          ))}
      </ul>
      <p className="no-print mt-4 flex flex-wrap gap-2">
        {mayEdit ? (
          <>
            <Link className="btn btn-plain" to={`/students/${studentId}/goals/new`}>
              New goal
            </Link>
            {goals.length > 1 ? (
              <Link className="btn btn-plain" to={`/students/${studentId}/order`}>
                Order and numbers
              </Link>
            ) : null}
            <Link className="btn btn-plain" to={`/students/${studentId}/copy`}>
              Copy goals
            </Link>
          </>
        ) : null}
        {mayRecord && goals.length > 0 ? (
          <>
            <Link className="btn btn-plain" to={`/past?student=${studentId}`}>
              Past observations
            </Link>
            <Link className="btn btn-plain" to={`/sheets?student=${studentId}`}>
              Data sheets
            </Link>
          </>
        ) : null}
      </p>
    </>
  );
}
