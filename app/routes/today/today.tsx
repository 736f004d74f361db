import { useState } from "react";
import { Form, Link, useNavigate, useSearchParams } from "react-router";
import { groupBy } from "#core/lists/group-by.ts";
import { isQuiet } from "#core/schedule/due-data.ts";
import { whyNoSchool } from "#core/schedule/calendar.ts";
import { weekdayOf } from "#core/dates/day-number.ts";
import { daysAgo, longDate, shortDate, timeOfDay } from "#core/words/dates.ts";
import { listed } from "#core/words/lists.ts";
import { plural } from "#core/words/numbers.ts";
import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { listDataAsks } from "#server/db/coverage.ts";
import { listDue, listRecentAbsences } from "#server/db/due.ts";
import { type Group, listGroups } from "#server/db/groups.ts";
import { shortName } from "#core/model/student-names.ts";
import { listOpenRequests } from "#server/db/rights.ts";
import { listUnfinished } from "#server/db/incident-lists.ts";
import { listLate } from "#server/db/late-presses.ts";
import { listOpenTallies } from "#server/db/tallies.ts";
import { listStaff } from "#server/db/staff.ts";
import { listCaseloadGoals, listCircleRoles, listStudents } from "#server/db/students.ts";
import { noteReads } from "#server/db/reads.ts";
import { standingPresses } from "#core/sitting/tally.ts";
import { DueDot } from "#app/ui/due-dot.tsx";
import { OpenRequests } from "../rights/open-requests.tsx";
import { LateAnswers, lateWords } from "../student/late-presses.tsx";
import { RecordNow } from "#app/ui/record-now.tsx";
import type { StartingGoals } from "#app/recording/start-from-goals.ts";
import { PageTitle } from "#app/ui/page-title.tsx";
import { followsStudents } from "#app/live/what-is-read.ts";
import type { Route } from "./+types/today";

/** The groups that meet at this time of this day, with the time at which they end. Times are `HH:MM`. */
function meetingNow(groups: readonly Group[], today: string, time: string) {
  return groups.flatMap(({ groupId, name, meets, studentIds }) => {
    const meeting = meets.find(
      ({ weekday, startsAt, endsAt }) => weekday === weekdayOf(today) && startsAt <= time && time < endsAt,
    );
    return meeting ? [{ groupId, name, studentIds, endsAt: meeting.endsAt }] : [];
  });
}

export const handle = followsStudents;

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "caseload.read", null, async (scope) => {
    const today = scope.today;
    const calendar = await readCalendar(scope);
    const students = await listStudents(scope);
    await noteReads(
      scope,
      "caseload",
      students.map(({ studentId }) => studentId),
    );
    const goals = (await listCaseloadGoals(scope)).filter(({ ended }) => ended === null);
    const due = new Map((await listDue(scope, calendar, today)).map((one) => [one.goalId, one.due]));
    const absences = await listRecentAbsences(scope, today);
    const names = new Map(
      (await listStaff(scope)).map((one) => [one.personId, shortName(one.givenName, one.familyName)]),
    );
    const roles = new Map(
      (
        await listCircleRoles(
          scope,
          students.map(({ studentId }) => studentId),
        )
      ).map(({ studentId, circleRole }) => [studentId, circleRole]),
    );
    const asks = new Map(
      (await listDataAsks(scope, scope.actor.personId, { from: today, to: today })).map((one) => [
        one.goalId,
        one,
      ]),
    );
    const unfinished = await listUnfinished(scope);
    const late = await listLate(scope);
    const byStudent = groupBy(goals, ({ studentId }) => studentId);
    return {
      today,
      requests: await listOpenRequests(scope),
      tallies: (await listOpenTallies(scope)).flatMap(({ studentId, goalId, on, presses }) => {
        const student = students.find((one) => one.studentId === studentId);
        const goal = goals.find((one) => one.goalId === goalId);
        if (!student || !goal) return [];
        const { number, title } = goal;
        return {
          key: `${goalId} ${on}`,
          name: student.name,
          number,
          title,
          on,
          count: standingPresses(presses).length,
        };
      }),
      // Whoever began one, or leads the circle, can say how it ended.
      unfinished: unfinished.flatMap(({ authorId, ...incident }) => {
        const student = students.find((one) => one.studentId === incident.studentId);
        const circleRole = roles.get(incident.studentId) ?? null;
        return student && may(scope.actor, "incident.correct", { circleRole, authorId })
          ? { ...incident, name: student.name }
          : [];
      }),
      late: late.flatMap((one) => {
        const student = students.find(({ studentId }) => studentId === one.studentId);
        const goal = goals.find(({ goalId }) => goalId === one.goalId);
        return student ? { ...one, name: student.name, title: goal?.title ?? "a goal that ended" } : [];
      }),
      noSchool: whyNoSchool(calendar, today),
      meetsNow: meetingNow(await listGroups(scope, students), today, scope.localNow.slice(11, 16)),
      students: students.map((student) => {
        const circleRole = roles.get(student.studentId) ?? null;
        return {
          studentId: student.studentId,
          name: student.name,
          initials: student.initials,
          absent: absences.get(student.studentId)?.includes(today) ?? false,
          mayRecord: may(scope.actor, "entry.record", { circleRole }),
          mayMark: may(scope.actor, "absence.mark", { circleRole }),
          goals: (byStudent.get(student.studentId) ?? []).map((goal) => {
            const last = goal.summary?.lastOn ?? null;
            const asked = due.get(goal.goalId);
            const ask = asks.get(goal.goalId);
            return {
              goalId: goal.goalId,
              number: goal.number,
              title: goal.title,
              // Whoever is asked for data has it due, whatever the plan says.
              state: ask && asked?.state !== "done" && last !== today ? "today" : (asked?.state ?? "nothing"),
              ask: ask ? `asked by ${ask.askedBy}` : null,
              count: asked && asked.asked > 0 ? `${asked.taken} of ${asked.asked} this week` : null,
              by: ask ? ask.person : goal.measuredBy === null ? null : (names.get(goal.measuredBy) ?? null),
              mine: (ask?.personId ?? goal.measuredBy) === scope.actor.personId,
              quiet:
                asked !== undefined &&
                isQuiet(last, today, calendar, absences.get(student.studentId), goal.setUpOn),
              last: last && daysAgo(last, today),
            };
          }),
        };
      }),
    };
  });
}

type TodayStudent = Awaited<ReturnType<typeof loader>>["students"][number];
type TodayGoal = TodayStudent["goals"][number];

const sections: { key: string; title: string; empty: string; holds: (goal: TodayGoal) => boolean }[] = [
  {
    key: "today",
    title: "Due today",
    empty: "Nothing is due today.",
    holds: ({ state }) => state === "today",
  },
  {
    key: "late",
    title: "Overdue",
    empty: "Nothing is overdue.",
    holds: ({ state, quiet }) => state === "late" || (quiet && state !== "today"),
  },
  {
    key: "week",
    title: "Later this week",
    empty: "Nothing more is asked for this week.",
    holds: ({ state, quiet }) => state === "this week" && !quiet,
  },
];

function Row({
  student,
  goals,
  busy,
  onStart,
}: {
  student: TodayStudent;
  goals: TodayGoal[];
  busy: boolean;
  onStart: () => void;
}) {
  return (
    <li className="grid grid-cols-[11rem_1fr_auto] items-start gap-x-4 border-b border-base-300 py-2 max-sm:grid-cols-[1fr_auto]">
      <Link
        to={`/students/${student.studentId}`}
        className="py-2 leading-tight font-bold no-underline hover:underline"
      >
        {student.name}
      </Link>
      <ul className="min-w-0 max-sm:order-last max-sm:col-span-2">
        {goals.map((goal) => (
          <li key={goal.goalId} className="flex flex-wrap items-baseline gap-x-3 py-1">
            <span className="w-8 font-serif font-semibold">{goal.number}</span>
            <Link
              to={`/students/${student.studentId}/goals/${goal.goalId}`}
              className="min-w-24 flex-1 no-underline hover:underline"
              dir="auto"
            >
              {goal.title}
            </Link>
            <span className="text-fine text-soft">
              {[
                goal.count,
                goal.quiet ? (goal.last ? `last ${goal.last}` : "never measured") : null,
                goal.by ?? "anyone",
                goal.ask,
              ]
                .filter(Boolean)
                .join(" · ")}
            </span>
          </li>
        ))}
      </ul>
      {student.mayRecord ? (
        <button
          type="button"
          className="btn btn-plain with-scripts h-11"
          disabled={busy}
          onClick={onStart}
          aria-label={`Start with ${student.name}`}
        >
          Start
        </button>
      ) : null}
    </li>
  );
}

type Late = Awaited<ReturnType<typeof loader>>["late"];

/** What arrived late of all-day tallies that are closed: it changes their entries when their lead says so. */
function LatePresses({ late }: { late: Late }) {
  return (
    <section aria-labelledby="late-presses" className="mt-4 rounded-lg bg-arrival px-4 py-2">
      <h2 id="late-presses" className="font-serif text-lg font-semibold">
        Late presses of closed tallies
      </h2>
      <ul>
        {late.map(({ studentId, goalId, on, entryId, name, title, more, fewer, by }) => (
          <li key={`${goalId} ${on}`} className="flex flex-wrap items-center gap-x-3 gap-y-1 py-1">
            <b dir="auto">{name}</b>
            <span className="min-w-0 flex-1">
              <Link className="link" to={`/students/${studentId}/entries/${entryId}`} dir="auto">
                {title}
              </Link>
              , {shortDate(on)}: {lateWords({ more, fewer })}{" "}
              <span className="text-fine text-soft">({listed(by)})</span>
            </span>
            <Form method="post" action={`/students/${studentId}/entries/${entryId}`} className="flex gap-2">
              <input type="hidden" name="back" value="today" />
              <LateAnswers />
            </Form>
          </li>
        ))}
      </ul>
    </section>
  );
}

/** What the plan asks for today and this week, for whom and by whom, and what it has missed. */
export default function Today({
  loaderData: { today, requests, noSchool, unfinished, late, tallies, meetsNow, students },
}: Route.ComponentProps) {
  const navigate = useNavigate();
  const [search] = useSearchParams();
  const [busy, setBusy] = useState(false);
  const mineOnly = search.get("for") === "me";
  const here = students.filter(({ absent }) => !absent);
  const rowsOf = (holds: (goal: TodayGoal) => boolean) =>
    here
      .map((student) => ({
        student,
        goals: student.goals.filter((goal) => holds(goal) && (!mineOnly || goal.mine)),
      }))
      .filter(({ goals }) => goals.length > 0);
  async function start(wanted: readonly StartingGoals[]): Promise<void> {
    setBusy(true);
    const { startFromGoals } = await import("#app/recording/start-from-goals.ts");
    const sittingId = await startFromGoals(wanted);
    const [only, ...more] = wanted;
    const form = only && more.length === 0 ? `/students/${only.studentId}` : "/record";
    await navigate(sittingId === null ? form : `/record?sitting=${sittingId}`);
  }
  const startingOf = ({ student, goals }: { student: TodayStudent; goals: TodayGoal[] }): StartingGoals => ({
    studentId: student.studentId,
    goalIds: goals.map(({ goalId }) => goalId),
  });
  /** The members who are here, with what is due for them, or else their first goal. */
  const membersOf = ({ studentIds }: (typeof meetsNow)[number]) =>
    here
      .filter(
        ({ studentId, mayRecord, goals }) => studentIds.includes(studentId) && mayRecord && goals.length > 0,
      )
      .map((student) => {
        const due = student.goals.filter(({ state }) => state === "today" || state === "late");
        return startingOf({ student, goals: due.length > 0 ? due : student.goals.slice(0, 1) });
      });
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
      <header className="mb-2 flex flex-wrap items-baseline gap-x-4 gap-y-2 border-b border-base-300 pb-3">
        <PageTitle title="Today" />
        <p className="text-fine text-soft">{longDate(today)}</p>
        <RecordNow />
        <nav className="ml-auto flex gap-4 max-sm:ml-0" aria-label="Whose data">
          <Link to="/today" className="page-tab" aria-current={mineOnly ? undefined : "page"}>
            Everyone’s
          </Link>
          <Link to="/coverage" className="page-tab order-last">
            Coverage
          </Link>
          <Link to="/today?for=me" className="page-tab" aria-current={mineOnly ? "page" : undefined}>
            Mine
          </Link>
        </nav>
      </header>
      {noSchool ? (
        <p className="rounded-lg bg-arrival px-4 py-2">No school today ({noSchool}): nothing is due.</p>
      ) : null}
      <OpenRequests requests={requests} today={today} />
      {students.length === 0 ? (
        <p className="py-4 font-serif text-soft">
          You are in no student’s circle yet. A case manager adds you. What is due then appears here.
        </p>
      ) : null}
      {unfinished.length > 0 ? (
        <section aria-labelledby="ongoing" className="mt-4 rounded-lg bg-arrival px-4 py-2">
          <h2 id="ongoing" className="font-serif text-lg font-semibold">
            Incidents to finish
          </h2>
          <ul>
            {unfinished.map(({ incidentId, studentId, name, on, at, author, ongoing, factsMissing }) => (
              <li key={incidentId} className="flex flex-wrap items-center gap-x-3 py-1">
                <b dir="auto">{name}</b>
                <span className="flex-1 text-fine">
                  {on === today ? "today" : shortDate(on)}
                  {at ? `, ${at}` : ""} · {author} ·{" "}
                  {[
                    ongoing && "still going on when recorded",
                    factsMissing.length > 0 && `facts missing: ${factsMissing.join("; ")}`,
                  ]
                    .filter(Boolean)
                    .join(" · ")}
                </span>
                <Link
                  className="btn btn-plain h-11"
                  to={`/students/${studentId}/incidents/${incidentId}`}
                  aria-label={`Finish the incident of ${name}`}
                >
                  Finish it
                </Link>
              </li>
            ))}
          </ul>
        </section>
      ) : null}
      {meetsNow.map((group) => {
        const members = membersOf(group);
        return members.length === 0 ? null : (
          <section
            key={group.groupId}
            aria-label={`${group.name} meets now`}
            className="with-scripts mt-4 flex flex-wrap items-center gap-3 rounded-lg bg-arrival px-4 py-2"
          >
            <p className="min-w-0 flex-1">
              <b dir="auto">{group.name}</b> meets now, until {timeOfDay(group.endsAt)} · {members.length}{" "}
              {plural(members.length, "student")}
            </p>
            <button
              type="button"
              className="btn btn-primary h-11"
              disabled={busy}
              onClick={() => void start(members)}
              aria-label={`Start with ${group.name}`}
            >
              Start
            </button>
          </section>
        );
      })}
      {late.length > 0 ? <LatePresses late={late} /> : null}
      {tallies.length > 0 ? (
        <section aria-labelledby="tallies" className="mt-4 rounded-lg bg-arrival px-4 py-2">
          <h2 id="tallies" className="flex flex-wrap items-center gap-3 font-serif text-lg font-semibold">
            Counting all day
            <Link
              to="/record?tally=day"
              reloadDocument
              className="btn btn-plain with-scripts ml-auto h-11 font-sans"
            >
              Open the tallies
            </Link>
          </h2>
          <ul>
            {tallies.map(({ key, name, number, title, on, count }) => (
              <li key={key} className="flex flex-wrap items-baseline gap-x-3 py-1">
                <b dir="auto">{name}</b>
                <span className="min-w-0 flex-1" dir="auto">
                  <span className="font-serif font-semibold">{number}</span> {title}
                </span>
                <span className="text-fine">
                  {on === today ? `${count} so far` : `${count} on ${shortDate(on)}, not closed yet`}
                </span>
              </li>
            ))}
          </ul>
        </section>
      ) : null}
      {sections.map(({ key, title, empty, holds }) => {
        const rows = rowsOf(holds);
        const count = rows.reduce((sum, { goals }) => sum + goals.length, 0);
        const together = rows.filter(({ student }) => student.mayRecord);
        return students.length === 0 ? null : (
          <section key={key} aria-labelledby={`due-${key}`} className="mt-5">
            <h2
              id={`due-${key}`}
              className="flex flex-wrap items-center gap-2 font-serif text-lg font-semibold"
            >
              {key === "today" && count > 0 ? <DueDot /> : null}
              {title}
              <span className="font-sans text-fine font-normal text-soft">
                {count > 0
                  ? `${count} ${plural(count, "goal")} of ${rows.length} ${plural(rows.length, "student")}`
                  : ""}
              </span>
              {key === "today" && together.length > 1 ? (
                <button
                  type="button"
                  className="btn btn-plain with-scripts ml-auto h-11 font-sans"
                  disabled={busy}
                  onClick={() => void start(together.map(startingOf))}
                >
                  Start all {together.length} together
                </button>
              ) : null}
            </h2>
            {count === 0 ? (
              <p className="border-b border-base-300 py-2 text-soft">{empty}</p>
            ) : (
              <ul>
                {rows.map(({ student, goals }) => (
                  <Row
                    key={student.studentId}
                    student={student}
                    goals={goals}
                    busy={busy}
                    onStart={() => void start([startingOf({ student, goals })])}
                  />
                ))}
              </ul>
            )}
          </section>
        );
      })}
      {students.length > 0 ? (
        <section aria-labelledby="absent" className="mt-6">
          <h2 id="absent" className="font-serif text-lg font-semibold">
            Absent today
          </h2>
          <p className="text-fine text-soft">One tap each. Nothing is due for a student who is absent.</p>
          <ul className="mt-2 flex flex-wrap gap-2">
            {students
              .filter(({ mayMark }) => mayMark)
              .map((student) => (
                <li key={student.studentId}>
                  <Form method="post" action={`/students/${student.studentId}/absent-today`}>
                    <input type="hidden" name="back" value="today" />
                    <button
                      className={`btn h-11 ${student.absent ? "btn-neutral" : "btn-plain"}`}
                      name="absent"
                      value={student.absent ? "no" : "yes"}
                      aria-pressed={student.absent}
                      aria-label={`${student.name} absent today`}
                    >
                      {student.initials}
                    </button>
                  </Form>
                </li>
              ))}
          </ul>
        </section>
      ) : null}
    </main>
  );
}
