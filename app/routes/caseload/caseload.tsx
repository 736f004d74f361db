import { Fragment, useState } from "react";
import { Form, Link, useLocation, useSearchParams, useSubmit } from "react-router";
import { groupBy } from "#core/lists/group-by.ts";
import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { listDue, listRecentAbsences } from "#server/db/due.ts";
import { listGroups } from "#server/db/groups.ts";
import { readFirstSteps } from "#server/db/own-settings.ts";
import { listLeadReminders } from "#server/db/guardians.ts";
import { listColleagues } from "#server/db/handovers.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { listCaseloadGoals, listCaseManagers, listStudents } from "#server/db/students.ts";
import { noteReads } from "#server/db/reads.ts";
import { sparkLine } from "#core/chart/spark-line.ts";
import { attentionOf } from "#core/progress/attention.ts";
import { dayNumber } from "#core/dates/day-number.ts";
import type { StandingKey } from "#core/progress/standing.ts";
import { judgeGoal } from "#core/progress/goal-figures.ts";
import { reportWeek } from "#core/schedule/report-week.ts";
import { isQuiet, nextDueWords } from "#core/schedule/due-data.ts";
import { dateWithYear, daysAgo } from "#core/words/dates.ts";
import { unitOf } from "#core/measures/measure.ts";
import { scoreWords } from "#core/words/amounts.ts";
import { counts, plural } from "#core/words/numbers.ts";
import { chosenHere, useChoicesKey } from "#app/ui/chosen-here.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { DueDot } from "#app/ui/due-dot.tsx";
import { SparkLine } from "#app/ui/spark-line.tsx";
import { StandingMark } from "#app/ui/standing-mark.tsx";
import { filtered, filtersAny, orders, readFilters, standings } from "./filters.ts";
import { FirstStepsTrail } from "./first-steps.tsx";
import { type Beginning, NoStudents } from "./no-students.tsx";
import { RecordNow } from "#app/ui/record-now.tsx";
import { DayWords } from "#app/ui/day-words.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import { walk } from "#app/ui/walk.ts";
import { followsStudents } from "#app/live/what-is-read.ts";
import type { Route } from "./+types/caseload";

/** What the page of a person without students needs to know. */
async function beginningOf(scope: PersonScope, any: boolean): Promise<Beginning> {
  const { role, caseManager } = scope.actor;
  return {
    role: caseManager ? "case manager" : role,
    managers: any ? [] : (await listCaseManagers(scope)).map(({ name }) => name),
  };
}

export const handle = followsStudents;

export function loader({ request, context }: Route.LoaderArgs) {
  const chosen = readFilters(new URL(request.url).searchParams);
  return authorize(request, context, "caseload.read", null, async (scope) => {
    const students = await listStudents(scope);
    await noteReads(
      scope,
      "caseload",
      students.map(({ studentId }) => studentId),
    );
    const goals = (await listCaseloadGoals(scope)).filter(({ ended }) => ended === null);
    const today = scope.today;
    const calendar = await readCalendar(scope);
    const absences = await listRecentAbsences(scope, today);
    const due = new Map((await listDue(scope, calendar, today)).map((one) => [one.goalId, one.due]));
    const groups = await listGroups(scope);
    const { personId: mine, givenName, familyName } = scope.actor;
    const names = new Map([
      ...(await listColleagues(scope)).map(({ personId, name }) => [personId, name] as const),
      [mine, `${givenName} ${familyName}`] as const,
    ]);
    const byStudent = groupBy(
      goals.map(
        ({
          goalId,
          studentId,
          number,
          title,
          area,
          measure,
          measuredBy,
          schedule,
          setup,
          setUpOn,
          summary,
        }) => {
          const last = summary?.last ?? null;
          const away = absences.get(studentId);
          const standing =
            summary &&
            judgeGoal(summary, setup, { ...{ today, calendar }, lastOn: summary.lastOn, absences: away })
              .standing;
          const lastOn = summary?.lastOn ?? null;
          const quiet =
            lastOn === null ? isQuiet(null, today, calendar, away, setUpOn) : standing?.stale != null;
          const asked = due.get(goalId);
          const dueToday = asked?.state === "today";
          return {
            ...{ goalId, studentId, number, title, area, measuredBy, standing, quiet, dueToday },
            shape: sparkLine(summary?.recent ?? [], {
              ...{ criterion: setup.criterion?.value ?? null, unit: unitOf(measure) },
              ...{ width: 72, height: 20 },
            }),
            nextDue: asked ? nextDueWords(asked, schedule, calendar, today) : null,
            attention: attentionOf({ key: standing?.key ?? null, quiet, dueToday }),
            last: last && {
              figure: scoreWords({
                value: last.value,
                unit: unitOf(measure),
                numerator: null,
                denominator: null,
              }),
              counts:
                last.value === null || last.numerator === null || last.denominator === null
                  ? null
                  : counts(last.numerator, last.denominator),
              when: daysAgo(last.date, today),
              days: dayNumber(today) - dayNumber(last.date),
            },
          };
        },
      ),
      (goal) => goal.studentId,
    );
    const all = students.map((student) => ({ ...student, goals: byStudent.get(student.studentId) ?? [] }));
    const measuring = [...new Set(goals.flatMap(({ measuredBy }) => measuredBy ?? []))];
    return {
      ...{ today, chosen, reports: reportWeek(calendar, today), families: await listLeadReminders(scope) },
      firstSteps: await readFirstSteps(scope),
      mayInvite: may(scope.actor, "staff.edit", { circleRole: null }),
      mayAdd: may(scope.actor, "student.add", { circleRole: null }),
      any: students.length > 0,
      beginning: await beginningOf(scope, students.length > 0),
      students: filtered(
        all,
        chosen,
        groups.find(({ groupId }) => groupId === chosen.group)?.studentIds ?? null,
      ),
      offered: {
        areas: [...new Set(goals.map(({ area }) => area))].filter(Boolean).sort(),
        people: measuring
          .flatMap((personId) =>
            names.has(personId) ? [[personId, names.get(personId) ?? ""] as const] : [],
          )
          .sort(([, a], [, b]) => (a < b ? -1 : 1)),
        groups: groups
          .filter(({ studentIds }) => studentIds.length > 0)
          .map(({ groupId, name }) => [groupId, name] as const),
      },
    };
  });
}

type LoaderData = Awaited<ReturnType<typeof loader>>;
type CaseloadGoal = LoaderData["students"][number]["goals"][number];

function GoalCell({ goal }: { goal: CaseloadGoal }) {
  const { last, nextDue } = goal;
  const told = [goal.quiet && last ? `last measured ${last.when}` : last?.when, nextDue].filter(Boolean);
  const brief = [last && (last.days === 0 ? "today" : `${last.days} d`), nextDue].filter(Boolean).join(" · ");
  return (
    <Link
      to={`/students/${goal.studentId}/goals/${goal.goalId}`}
      className="grid min-w-0 grid-cols-[1.7rem_1fr_auto] items-center gap-x-2 rounded-lg px-2 py-1 no-underline hover:bg-base-200"
      title={[goal.title, goal.attention, ...told].filter(Boolean).join(", ")}
      data-goal
    >
      <span className="font-serif text-lg leading-none font-semibold">{goal.number}</span>
      <span className="min-w-0">
        <span className="flex items-center gap-1.5 text-fine leading-tight">
          {goal.dueToday ? <DueDot /> : null}
          <span className="truncate">{goal.title}</span>
        </span>
        <span className="flex items-baseline gap-x-2 text-fine leading-tight">
          {goal.standing ? <StandingMark standing={goal.standing} brief /> : null}
          <LastFigure figure={last?.figure ?? "not measured yet"} counts={last?.counts ?? null} />
        </span>
      </span>
      <span className="grid w-[5.4rem] justify-items-end">
        <SparkLine shape={goal.shape} />
        <span
          className={`text-right text-[0.72rem] leading-[0.95rem] sm:whitespace-nowrap ${goal.quiet && last ? "font-bold" : "text-soft"}`}
        >
          <span aria-hidden="true">{brief}</span>
          <span className="sr-only">{told.join(", ")}</span>
        </span>
      </span>
    </Link>
  );
}

/** How many goals there are and what they need; each count leads to its goals. */
function Overview({
  goals,
  students,
  reports,
  families,
}: {
  goals: CaseloadGoal[];
  students: number;
  reports: LoaderData["reports"];
  families: LoaderData["families"];
}) {
  const of = (key: StandingKey) => goals.filter((goal) => goal.standing?.key === key).length;
  const quiet = goals.filter((goal) => goal.quiet).length;
  const due = goals.filter((goal) => goal.dueToday).length;
  const stuck = families.reduce((sum, one) => sum + one.stuck, 0);
  const parts: readonly (readonly [words: string, to: string | null])[] = [
    [`${students} ${plural(students, "student")}, ${goals.length} ${plural(goals.length, "goal")}`, null],
    of("behind") > 0
      ? [`${of("behind")} behind the line`, "?standing=behind"]
      : ["none behind the line", null],
    ...(of("reached") > 0
      ? [[`${of("reached")} reached, to be confirmed`, "?standing=reached"] as const]
      : []),
    due > 0 ? [`${due} due today`, "/today"] : ["nothing due today", null],
    quiet > 0
      ? [`${quiet} without an entry for two school weeks`, "?standing=quiet"]
      : ["every goal measured within two weeks", null],
    ...(reports
      ? [[`progress reports of ${reports.name}`, `/progress-reports/${reports.fromOn}`] as const]
      : []),
    ...families.flatMap(({ studentId, name, questions, held, comesOfAge }) => {
      const says = [
        questions > 0 && `${questions} ${plural(questions, "question")} from the family`,
        comesOfAge && `turns 18 on ${dateWithYear(comesOfAge)}`,
      ].filter(Boolean);
      return [
        ...(says.length > 0
          ? [[`${name}: ${says.join(", ")}`, `/students/${studentId}/family`] as const]
          : []),
        ...(held > 0
          ? [[`${name}: ${held} late ${plural(held, "record")}`, `/students/${studentId}/held`] as const]
          : []),
      ];
    }),
    ...(stuck > 0
      ? [[`${stuck} ${plural(stuck, "message")} to look at`, "/dispatch?show=look"] as const]
      : []),
  ];
  return (
    <p className="text-fine text-soft">
      {parts.map(([words, to], at) => (
        <Fragment key={words}>
          {at > 0 ? " · " : ""}
          {to === null ? (
            words
          ) : (
            <Link to={to} className="link">
              {words}
            </Link>
          )}
        </Fragment>
      ))}
    </p>
  );
}

/** The filters and the order of the caseload. They stand in the address, and the list follows each choice. */
function Choose({ chosen, offered }: Pick<LoaderData, "chosen" | "offered">) {
  const submit = useSubmit();
  const { pathname } = useLocation();
  const choices = [
    ["order", "Order", orders],
    ["standing", "Standing", standings],
    ["area", "Area", [["", "All areas"], ...offered.areas.map((area) => [area, area] as const)]],
    ["person", "Usually measured by", [["", "Any person"], ...offered.people]],
    ["group", "Group", [["", "All groups"], ...offered.groups]],
  ] as const;
  const [open, setOpen] = useState(false);
  const count = [chosen.standing, chosen.area, chosen.person, chosen.group].filter(Boolean).length;
  return (
    <>
      <button
        type="button"
        className="btn btn-plain btn-sm with-scripts no-print mb-1 h-11 sm:hidden"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        Choose goals{count > 0 ? ` (${count})` : ""}
      </button>
      <Form
        key={useChoicesKey()}
        role="search"
        aria-label="Which goals"
        className={`no-print mb-1 flex flex-wrap gap-2 ${open ? "" : "folded-on-phone"}`}
        onChange={(event) => {
          const form = new FormData(event.currentTarget);
          for (const [name, value] of [...form]) if (value === "") form.delete(name);
          void submit(form, { preventScrollReset: true, state: chosenHere });
        }}
      >
        {choices.map(([name, label, options]) =>
          options.length > 1 ? (
            <select
              key={name}
              name={name}
              aria-label={label}
              defaultValue={chosen[name]}
              className="select h-9 w-auto max-w-56 pr-8 text-fine"
            >
              {options.map(([value, words]) => (
                <option key={value} value={value}>
                  {words}
                </option>
              ))}
            </select>
          ) : null,
        )}
        {filtersAny(chosen) ? (
          <Link className="btn btn-plain btn-sm h-9" to={pathname}>
            All again
          </Link>
        ) : null}
        <noscript>
          <button className="btn btn-plain btn-sm">Show</button>
        </noscript>
      </Form>
    </>
  );
}

/** The last figure on one line; where it is too long, its counts in brackets wrap out of sight as a whole. */
function LastFigure({ figure, counts }: { figure: string; counts: string | null }) {
  return (
    <b
      className="flex h-[1lh] min-w-0 flex-wrap gap-x-1 overflow-hidden"
      title={counts === null ? figure : `${figure} (${counts})`}
    >
      <span className="max-w-full truncate">{figure}</span>
      {counts === null ? null : <span>({counts})</span>}
    </b>
  );
}

export default function Caseload({
  loaderData: {
    students,
    any,
    today,
    reports,
    families,
    firstSteps,
    mayInvite,
    mayAdd,
    beginning,
    chosen,
    offered,
  },
}: Route.ComponentProps) {
  const added = Number(useSearchParams()[0].get("added") ?? 0);
  return (
    <main id="page" className="page-body min-w-0 px-8 py-4 max-sm:px-4">
      <header className="mb-2 flex flex-wrap items-baseline gap-x-4 border-b border-base-300 pb-2">
        <PageTitle title="Caseload" />
        <p className="text-fine text-soft">
          <DayWords on={today} />
        </p>
        {any ? (
          <span className="ml-auto max-sm:ml-0">
            <RecordNow />
          </span>
        ) : null}
        {students.length > 0 ? (
          <div className="basis-full">
            <Overview
              goals={students.flatMap((student) => student.goals)}
              students={students.length}
              reports={reports}
              families={families}
            />
          </div>
        ) : null}
      </header>
      {firstSteps ? <FirstStepsTrail steps={firstSteps} mayInvite={mayInvite} /> : null}
      {added > 0 ? (
        <p role="status" className="mb-2 w-fit rounded-lg bg-arrival px-4 py-2">
          {added} {plural(added, "student")} added. Open each one to set up the first goal.
        </p>
      ) : null}
      {any ? <Choose chosen={chosen} offered={offered} /> : null}
      {!any ? (
        <NoStudents {...beginning} />
      ) : students.length === 0 ? (
        <EmptyState title="None of these">
          <p>No goal has all of what is chosen. Take something out above.</p>
        </EmptyState>
      ) : (
        <ul onKeyDown={walk} aria-label="Students and goals">
          {students.map((student) => (
            <li
              key={student.studentId}
              className="grid grid-cols-[10.9rem_1fr] items-center gap-x-1 border-b border-base-300 py-px max-md:grid-cols-1"
            >
              <Link
                to={`/students/${student.studentId}`}
                className="rounded-lg px-2 py-1 no-underline hover:bg-base-200"
              >
                <span className="flex items-baseline gap-2">
                  <span
                    className="truncate font-serif leading-tight font-semibold"
                    title={student.name}
                    dir="auto"
                  >
                    {student.name}
                  </span>
                  {student.grade ? (
                    <span className="shrink-0 text-fine text-soft">
                      <span className="sr-only">grade </span>
                      {student.grade}
                    </span>
                  ) : null}
                </span>
              </Link>
              {student.goals.length === 0 ? (
                <p className="px-2 py-2 text-fine text-soft">No goals under way.</p>
              ) : (
                <div className="grid grid-cols-[repeat(auto-fill,minmax(min(100%,18rem),1fr))]">
                  {student.goals.map((goal) => (
                    <GoalCell key={goal.goalId} goal={goal} />
                  ))}
                </div>
              )}
            </li>
          ))}
        </ul>
      )}
      <p className="no-print mt-3 flex flex-wrap gap-2">
        {mayAdd ? (
          <>
            <Link className="btn btn-plain btn-sm" to="/students/new">
              New student
            </Link>
            <Link className="btn btn-plain btn-sm" to="/students/several">
              Several students
            </Link>
          </>
        ) : null}
        {any ? (
          <Link className="btn btn-plain btn-sm" to="/progress-reports">
            Progress reports
          </Link>
        ) : null}
        {any ? (
          <Link className="btn btn-plain btn-sm" to="/compare">
            Compare two goals
          </Link>
        ) : null}
        <Link className="btn btn-plain btn-sm" to="/school/calendar">
          The school
        </Link>
      </p>
    </main>
  );
}
