import { Form, Link, useNavigate } from "react-router";
import { enter } from "#server/access/enter.ts";
import { isId, notFound } from "#server/access/visit.ts";
import { may } from "#server/access/table.ts";
import { findEntry, listGoalEntries, schoolNow } from "#server/db/entries.ts";
import type { Entry, Goal } from "#server/db/rows.ts";
import { listGoals } from "#server/db/students.ts";
import { chartDescription, progressChart } from "#core/chart/progress-chart.ts";
import { criterionWords } from "#core/criteria/criterion-words.ts";
import { type EntryFigure, goalPoints, goalProgress, goalStanding } from "#core/progress/goal-figures.ts";
import { latestFigure } from "#core/report/goal-sentences.ts";
import { dateWithYear, daysAgo, shortDate } from "#core/words/dates.ts";
import { percentWithCounts } from "#core/words/numbers.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { GoalChart } from "#app/ui/goal-chart.tsx";
import { useKeys } from "#app/ui/keys.ts";
import { SparkLine } from "#app/ui/spark-line.tsx";
import { StandingMark } from "#app/ui/standing-mark.tsx";
import type { Route } from "./+types/goals";

function toFigure({ entryId, on, score, purpose }: Entry): EntryFigure {
  return {
    entryId,
    date: on,
    value: score.value,
    numerator: score.numerator,
    denominator: score.denominator,
    purpose,
  };
}

function openGoal(goal: Goal, entries: readonly Entry[]) {
  const { setup } = goal;
  const points = goalPoints(setup, entries.map(toFigure));
  const figures = goalProgress(setup, points);
  const last = entries.find((entry) => entry.entryId === points.at(-1)?.entry.entryId);
  const chart = progressChart(setup, points, figures);
  const phase = setup.phases.find((one) => one.phaseId === figures.currentPhase);
  const phaseNames = new Map(
    setup.phases.map((one) => [one.isBaseline ? "baseline" : one.phaseId, one.name]),
  );
  const pointOf = new Map(points.map((point) => [point.entry.entryId, point]));
  return {
    goalId: goal.goalId,
    number: goal.number,
    title: goal.title,
    wording: goal.wording,
    criterion: setup.criterion && criterionWords(setup.criterion),
    due: setup.dueOn && dateWithYear(setup.dueOn),
    standing: goalStanding(figures, setup),
    latest: latestFigure(
      points,
      last?.score.interval95 ?? null,
      figures.slopePerWeek,
      phase && setup.phases.length > 1 ? phase.name : null,
    ),
    chart,
    description: chart ? chartDescription(points, chart) : "",
    rows: [...entries].reverse().map((entry) => ({
      entryId: entry.entryId,
      date: shortDate(entry.on),
      time: entry.time,
      figure: percentWithCounts(entry.score),
      phase: phaseNames.get(pointOf.get(entry.entryId)?.phase ?? "") ?? "",
      author: entry.author,
      note: entry.note,
    })),
  };
}

export function loader({ request, context, params }: Route.LoaderArgs) {
  return enter(request, context, "student.read", params.studentId, async (visit) => {
    const goals = await listGoals(visit, params.studentId);
    const wanted = params.goalId;
    const open = wanted ? (goals.find((goal) => goal.goalId === wanted) ?? notFound()) : goals[0];
    const removedId = new URL(request.url).searchParams.get("removed");
    const removed = isId(removedId) ? await findEntry(visit, params.studentId, removedId) : null;
    const today = (await schoolNow(visit.trx, visit.person.timeZone)).slice(0, 10);
    return {
      mayRecord: may(visit.person, "entry.record", { part: visit.part }),
      open: open ? openGoal(open, await listGoalEntries(visit, open.goalId)) : null,
      goals: goals.map(({ goalId, number, title, setup, summary }) => ({
        goalId,
        number,
        title,
        standing: summary && goalStanding(summary, setup),
        criterion: setup.criterion?.value ?? null,
        recent: summary?.recent ?? [],
        last: summary?.last
          ? { figure: percentWithCounts(summary.last), when: daysAgo(summary.last.date, today) }
          : null,
      })),
      removed:
        removed?.state === "removed"
          ? {
              entryId: removed.entryId,
              revision: removed.revision,
              figure: percentWithCounts(removed.score),
              date: shortDate(removed.on),
            }
          : null,
    };
  });
}

type LoaderData = Awaited<ReturnType<typeof loader>>;
type OpenGoal = NonNullable<LoaderData["open"]>;

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
        Removed: {removed.figure} of {removed.date}. It no longer counts and no longer stands in the report.
      </span>
      <input type="hidden" name="intent" value="restore" />
      <input type="hidden" name="revision" value={removed.revision} />
      <button className="btn btn-plain btn-sm">Take that back</button>
    </Form>
  );
}

function EntriesTable({ goal, studentId }: { goal: OpenGoal; studentId: string }) {
  return (
    <details className="mt-3">
      <summary className="w-fit cursor-pointer py-1 text-fine font-bold text-soft hover:text-base-content">
        The numbers as a table ({goal.rows.length})
      </summary>
      <div className="overflow-x-auto">
        <table className="mt-2 w-full text-left text-[0.9rem]">
          <thead className="text-fine text-soft">
            <tr>
              {["Date", "Score", "Phase", "By", "Note"].map((heading) => (
                <th key={heading} scope="col" className="py-1 pr-4 font-bold">
                  {heading}
                </th>
              ))}
            </tr>
          </thead>
          <tbody>
            {goal.rows.map((row) => (
              <tr key={row.entryId} className="border-t border-base-300 align-top">
                <td className="py-1.5 pr-4 whitespace-nowrap">
                  <Link className="link" to={`/students/${studentId}/entries/${row.entryId}`}>
                    {row.date}, {row.time}
                  </Link>
                </td>
                <td className="py-1.5 pr-4 whitespace-nowrap">{row.figure}</td>
                <td className="py-1.5 pr-4">{row.phase}</td>
                <td className="py-1.5 pr-4 whitespace-nowrap">{row.author}</td>
                <td className="py-1.5">{row.note}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
    </details>
  );
}

function OpenGoalSection({
  goal,
  studentId,
  mayRecord,
}: {
  goal: OpenGoal;
  studentId: string;
  mayRecord: boolean;
}) {
  const navigate = useNavigate();
  const recordPath = `/students/${studentId}/goals/${goal.goalId}/record`;
  useKeys(mayRecord ? { r: () => void navigate(recordPath) } : {});
  return (
    <section aria-label={`Goal ${goal.number}`} className="py-4">
      <div className="grid grid-cols-[3.4rem_1fr] max-sm:grid-cols-[2.6rem_1fr]">
        <p className="font-serif text-[1.7rem] leading-tight font-semibold">{goal.number}</p>
        <div className="min-w-0">
          <p className="max-w-[42rem] font-serif text-[1.05rem] leading-relaxed break-words" dir="auto">
            {goal.wording}
          </p>
          <p className="mt-1 text-fine text-soft">
            {goal.criterion ? `Criterion ${goal.criterion}` : "No criterion set yet"}
            {goal.due ? ` · due ${goal.due}` : " · no due date yet"}
          </p>
          <p className="mt-2 flex flex-wrap items-baseline gap-x-3 gap-y-1 text-[0.97rem]">
            <StandingMark standing={goal.standing} />
            <span className="min-w-[16rem] flex-1">{goal.standing.why}</span>
          </p>
        </div>
      </div>
      {goal.chart ? (
        <div className="mt-2">
          <GoalChart
            chart={goal.chart}
            description={goal.description}
            onOpen={(entryId) => void navigate(`/students/${studentId}/entries/${entryId}`)}
          />
        </div>
      ) : (
        <p className="my-6 ml-[3.4rem] font-serif text-soft">
          No points yet. The chart begins with the first probe.
        </p>
      )}
      <div className="mt-2 flex flex-wrap items-start gap-x-5 gap-y-3">
        {goal.latest ? (
          <p className="flex min-w-[18rem] flex-1 items-baseline gap-3">
            <span className="font-serif text-[1.7rem] leading-none font-semibold whitespace-nowrap">
              {goal.latest.value}
            </span>
            <span>
              {goal.latest.about}
              {goal.latest.interval ? (
                <span className="text-fine text-soft"> ({goal.latest.interval})</span>
              ) : null}
              . {goal.latest.trend}
            </span>
          </p>
        ) : null}
        {mayRecord ? (
          <Link to={recordPath} className="btn btn-primary no-print ml-auto">
            Record {goal.number}{" "}
            <kbd className="rounded border border-current px-1 text-[0.7rem] font-normal opacity-80 max-sm:hidden">
              r
            </kbd>
          </Link>
        ) : null}
      </div>
      {goal.rows.length > 0 ? <EntriesTable goal={goal} studentId={studentId} /> : null}
    </section>
  );
}

export default function Goals({
  loaderData: { goals, open, mayRecord, removed },
  params,
}: Route.ComponentProps) {
  const { studentId } = params;
  if (!open) {
    return (
      <EmptyState title="No goals yet">
        <p>
          Once this student’s IEP goals are in, each stands here with its wording, its chart and where it
          stands.
        </p>
      </EmptyState>
    );
  }
  return (
    <>
      {removed ? <RemovedNotice removed={removed} studentId={studentId} /> : null}
      <OpenGoalSection key={open.goalId} goal={open} studentId={studentId} mayRecord={mayRecord} />
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
                <span className="truncate">{goal.title}</span>
                <span className="max-lg:hidden">
                  <SparkLine recent={goal.recent} criterion={goal.criterion} />
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
    </>
  );
}
