import { Form, Link, useSubmit } from "react-router";
import { groupBy } from "#core/lists/group-by.ts";
import { aboutPoints } from "#core/chart/chart.ts";
import { chartDescription, progressChart } from "#core/chart/progress-chart.ts";
import { unitOf } from "#core/measures/measure.ts";
import { goalFullFigures } from "#core/progress/goal-figures.ts";
import { type GoalPoint, goalSeries } from "#core/progress/points.ts";
import { chosenPoints, type SideChoice, sideRows, sidesSentence } from "#core/progress/compare-sides.ts";
import { baselinePhase } from "#core/progress/progress.ts";
import { type ReportingSpan, reportingSpans } from "#core/schedule/reporting-spans.ts";
import { schoolBreaks } from "#core/schedule/breaks.ts";
import { figure } from "#core/words/amounts.ts";
import { shortDate } from "#core/words/dates.ts";
import { authorize } from "#server/access/authorize.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { listGoalEntries } from "#server/db/entry-lists.ts";
import { figuresOf } from "#core/progress/figures-of.ts";
import type { Goal } from "#core/model/goal.ts";
import { listCaseloadGoals, listStudents } from "#server/db/students.ts";
import { noteReads } from "#server/db/reads.ts";
import { chosenHere, useChoicesKey } from "#app/ui/chosen-here.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { ProgressChartSvg } from "#app/ui/progress-chart.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import { followsStudents } from "#app/live/what-is-read.ts";
import type { Route } from "./+types/compare";

const sides = ["a", "b"] as const;
const days = [
  ["56", "the last 8 weeks"],
  ["28", "the last 4 weeks"],
] as const;

/** Reads one side of the comparison from the address; values that do not fit are ignored. */
async function readSide(
  scope: PersonScope,
  search: URLSearchParams,
  side: string,
  { goals, periods }: { goals: readonly Goal[]; periods: readonly ReportingSpan[] },
) {
  const goal = goals.find(({ goalId }) => goalId === search.get(side)) ?? null;
  if (!goal) return null;
  const { setup } = goal;
  const series = goalSeries(setup, figuresOf(goal, await listGoalEntries(scope, goal.goalId)), scope.today);
  const { points } = series;
  const phases = setup.phases.map(({ phaseId, name, isBaseline }) => ({
    key: isBaseline ? baselinePhase : phaseId,
    name,
  }));
  const settings = [...new Set(points.flatMap(({ entry }) => entry.setting || []))].sort();
  const asked = search.get(`${side}-span`) ?? "";
  const length = days.find(([key]) => key === asked)?.[0];
  const period = periods.find(({ key }) => key === asked);
  const span: SideChoice["span"] = length
    ? { days: Number(length) }
    : period
      ? { from: period.from, to: period.to, key: period.key }
      : phases.some(({ key }) => key === asked)
        ? { phase: asked }
        : "all";
  const setting = settings.find((one) => one === search.get(`${side}-setting`)) ?? "";
  return {
    ...{ goal, phases, settings, setting, span },
    series,
    chosen: chosenPoints(points, { span, setting }),
  };
}

export const handle = followsStudents;

export function loader({ request, context }: Route.LoaderArgs) {
  const search = new URL(request.url).searchParams;
  return authorize(request, context, "caseload.read", null, async (scope) => {
    const students = await listStudents(scope);
    const goals = await listCaseloadGoals(scope);
    const calendar = await readCalendar(scope);
    const breaks = schoolBreaks(calendar);
    const periods = reportingSpans(calendar, scope.today);
    const [left, right] = [
      await readSide(scope, search, sides[0], { goals, periods }),
      await readSide(scope, search, sides[1], { goals, periods }),
    ];
    await noteReads(
      scope,
      "goals",
      [left, right].flatMap((side) => side?.goal.studentId ?? []),
    );
    const unit = (side: NonNullable<typeof left>) => unitOf(side.goal.measure);
    const isAlike = left && right && unit(left) === unit(right);
    const choiceOf = ({ goal, span, setting }: NonNullable<typeof left>) =>
      JSON.stringify([goal.goalId, span, setting]);
    const isSame = left && right && choiceOf(left) === choiceOf(right);
    const both = isAlike ? [...left.chosen, ...right.chosen].map(({ value }) => value) : [];
    const shown = (side: typeof left) => {
      if (!side) return null;
      const { goal, chosen, phases, settings, setting, span } = side;
      const series = { ...side.series, all: chosen, points: chosen, judged: [] };
      const whole = progressChart(goal.setup, series, goalFullFigures(goal.setup, series), {
        ...{ breaks, alike: both },
      });
      const chart = whole && span !== "all" ? aboutPoints(whole) : whole;
      return {
        ...{ goalId: goal.goalId, studentId: goal.studentId, phases, settings, setting },
        span:
          span === "all" ? "" : "phase" in span ? span.phase : "key" in span ? span.key : String(span.days),
        periods: periods.map(({ key, words }) => ({ key, name: words })),
        title: `${goal.number} ${goal.title}`,
        student: students.find(({ studentId }) => studentId === goal.studentId)?.name ?? "",
        chart: chart && chosen.length > 0 ? chart : null,
        description: chart ? chartDescription(series, chart) : "",
        rows: sideRows(chosen, unit(side), (phase) => phases.find(({ key }) => key === phase)?.name ?? phase),
        points: told(chosen, unit(side)),
      };
    };
    return {
      sides: [shown(left), shown(right)],
      sentence: isSame
        ? "Both sides are the same: choose another goal or stretch for one of them."
        : left && right
          ? sidesSentence(
              { points: left.chosen, unit: unit(left), title: left.goal.title },
              { points: right.chosen, unit: unit(right), title: right.goal.title },
              left.goal.goalId === right.goal.goalId
                ? { direction: left.goal.setup.criterion?.direction ?? "increase" }
                : null,
            )
          : null,
      offered: [...groupBy(goals, ({ studentId }) => studentId)].map(([studentId, own]) => ({
        name: students.find((one) => one.studentId === studentId)?.name ?? "",
        goals: own.map(({ goalId, number, title }) => ({ goalId, name: `${number} ${title}` })),
      })),
    };
  });
}

const told = (points: readonly GoalPoint[], unit: string) =>
  points
    .map(({ date, value, entry }) => ({
      entryId: entry.entryId,
      said: `${shortDate(date)}: ${figure(value, unit)}${entry.setting ? ` (${entry.setting})` : ""}`,
    }))
    .reverse();

type LoaderData = Awaited<ReturnType<typeof loader>>;
type Side = NonNullable<LoaderData["sides"][number]>;

function SideFields({
  side,
  name,
  words,
  offered,
}: {
  side: Side | null | undefined;
  name: (typeof sides)[number];
  words: string;
  offered: LoaderData["offered"];
}) {
  return (
    <fieldset className="flex min-w-0 flex-wrap gap-2">
      <legend className="mb-1 text-fine font-bold">{words}</legend>
      <select
        className="select w-64"
        name={name}
        defaultValue={side?.goalId ?? ""}
        aria-label={`${words}: goal`}
      >
        <option value="">choose a goal</option>
        {offered.map((student) => (
          <optgroup key={student.name} label={student.name}>
            {student.goals.map(({ goalId, name: title }) => (
              <option key={goalId} value={goalId}>
                {title}
              </option>
            ))}
          </optgroup>
        ))}
      </select>
      {side ? (
        <>
          <select
            className="select w-44"
            name={`${name}-span`}
            defaultValue={side.span}
            aria-label={`${words}: span`}
          >
            <option value="">All points</option>
            {[...side.phases, ...side.periods].map(({ key, name: phase }) => (
              <option key={key} value={key}>
                {phase}
              </option>
            ))}
            {days.map(([key, said]) => (
              <option key={key} value={key}>
                {said}
              </option>
            ))}
          </select>
          {side.settings.length > 1 ? (
            <select
              className="select w-40"
              name={`${name}-setting`}
              defaultValue={side.setting}
              aria-label={`${words}: setting`}
            >
              <option value="">every setting</option>
              {side.settings.map((setting) => (
                <option key={setting}>{setting}</option>
              ))}
            </select>
          ) : null}
        </>
      ) : null}
    </fieldset>
  );
}

function Shown({ side, label }: { side: Side; label: string }) {
  return (
    <section aria-label={label} className="min-w-0 break-inside-avoid">
      <h2 className="font-serif text-[1.15rem] font-semibold">
        <Link
          className="no-underline hover:underline"
          to={`/students/${side.studentId}/goals/${side.goalId}`}
        >
          {side.student} · <span dir="auto">{side.title}</span>
        </Link>
      </h2>
      {side.chart ? (
        <div className="mt-1">
          <div className="max-sm:hidden">
            <ProgressChartSvg chart={side.chart} description={side.description} width={560} />
          </div>
          <div className="sm:hidden">
            <ProgressChartSvg chart={side.chart} description={side.description} width={400} />
          </div>
        </div>
      ) : (
        <p className="my-6 text-soft">No point is in what is chosen. Take something out above.</p>
      )}
      <dl className="mt-2 grid grid-cols-[max-content_1fr] gap-x-6 text-[0.9375rem]">
        {side.rows.map(([what, said]) => (
          <div key={what} className="contents">
            <dt className="border-t border-base-300 py-1 text-soft">{what}</dt>
            <dd className="border-t border-base-300 py-1">{said}</dd>
          </div>
        ))}
      </dl>
      {side.points.length > 0 ? (
        <details className="mt-2">
          <summary className="w-fit cursor-pointer py-1 text-fine font-bold text-soft hover:text-base-content">
            The points ({side.points.length})
          </summary>
          <ul className="text-[0.9375rem]">
            {side.points.map(({ entryId, said }) => (
              <li key={entryId} className="border-t border-base-300 py-1">
                <Link className="link" to={`/students/${side.studentId}/entries/${entryId}`}>
                  {said}
                </Link>
              </li>
            ))}
          </ul>
        </details>
      ) : null}
    </section>
  );
}

/** Two goals, two students, two spans or two settings beside each other. */
export default function Compare({ loaderData: { sides: chosen, sentence, offered } }: Route.ComponentProps) {
  const submit = useSubmit();
  const choicesKey = useChoicesKey();
  const [left, right] = chosen;
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <header className="mb-3 flex flex-wrap items-baseline gap-x-4 border-b border-base-300 pb-3">
        <PageTitle title="Compare" />
        <p className="text-fine text-soft">
          Compare two goals, students, spans, or settings. For the team only: this page shows more than one
          student.
        </p>
      </header>
      {offered.length === 0 ? (
        <EmptyState title="No goals yet">
          <p>Once a student in whose circle you are has a goal, it can be put beside another here.</p>
        </EmptyState>
      ) : (
        <>
          <Form
            key={choicesKey}
            role="search"
            aria-label="What is compared"
            className="no-print grid gap-3 lg:grid-cols-2"
            onChange={(event) => {
              const form = new FormData(event.currentTarget);
              for (const [name, value] of [...form]) if (value === "") form.delete(name);
              void submit(form, { preventScrollReset: true, state: chosenHere });
            }}
          >
            <SideFields side={left} name="a" words="On the left" offered={offered} />
            <SideFields side={right} name="b" words="On the right" offered={offered} />
            <noscript>
              <button className="btn btn-plain">Show</button>
            </noscript>
          </Form>
          {sentence ? (
            <p className="mt-4 max-w-[46rem] font-serif text-[1.05rem] leading-relaxed" role="status">
              {sentence}
            </p>
          ) : (
            <p className="mt-4 text-soft">Choose a goal on both sides.</p>
          )}
          <div className="mt-4 grid gap-x-8 gap-y-6 lg:grid-cols-2">
            {left ? <Shown side={left} label="On the left" /> : <span />}
            {right ? <Shown side={right} label="On the right" /> : null}
          </div>
        </>
      )}
    </main>
  );
}
