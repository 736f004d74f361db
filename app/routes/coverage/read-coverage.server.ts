import { groupBy } from "#core/lists/group-by.ts";
import { nextInSession } from "#core/schedule/calendar.ts";
import { mondaysUpTo, secondObserved, sums, weeksCovered, weeksOfPeople } from "#core/schedule/coverage.ts";
import { dueData, isQuiet } from "#core/schedule/due-data.ts";
import { scheduleWords } from "#core/schedule/schedule.ts";
import { daysAgo, longDate, monthDay } from "#core/words/dates.ts";
import { listed } from "#core/words/lists.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { may } from "#server/access/table.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { listCoveredDays, listDataAsks, listObservedDays, listRecorders } from "#server/db/coverage.ts";
import { listRecentAbsences } from "#server/db/due.ts";
import { noteReads } from "#server/db/reads.ts";
import { listStaff } from "#server/db/staff.ts";
import { listCaseloadGoals, listCircleRoles, listStudents } from "#server/db/students.ts";

/** How many weeks can be looked at. */
export const weekChoices = [4, 8, 12] as const;

/** The later of two days; days that are not set do not count. */
const later = (...days: (string | null | undefined)[]): string | null =>
  days
    .flatMap((day) => day ?? [])
    .toSorted()
    .at(-1) ?? null;

/** What the coverage page shows: of the person's students, what was asked and what came, by whom. */
export async function readCoverage(scope: PersonScope, weeks: number) {
  const { today } = scope;
  const calendar = await readCalendar(scope);
  const mondays = mondaysUpTo(today, weeks);
  const students = await listStudents(scope);
  const ids = students.map(({ studentId }) => studentId);
  await noteReads(scope, "coverage", ids);
  const goals = (await listCaseloadGoals(scope)).filter(({ ended }) => ended === null);
  const absences = await listRecentAbsences(scope, today);
  const roles = new Map(
    (await listCircleRoles(scope, ids)).map(({ studentId, circleRole }) => [studentId, circleRole]),
  );
  const covered = groupBy(await listCoveredDays(scope, mondays[0] ?? today), ({ goalId }) => goalId);
  const observed = await listObservedDays(
    scope,
    goals.map(({ goalId }) => goalId),
  );
  const names = new Map(
    (await listStaff(scope)).map((one) => [one.personId, `${one.givenName} ${one.familyName}`]),
  );
  const nameOf = (personId: string) => names.get(personId) ?? "a former colleague";
  const recorders = await listRecorders(scope);
  const day = nextInSession(calendar, today);
  const asks = await listDataAsks(scope, scope.actor.personId, { from: today, to: day ?? today });
  const rows = goals.map((goal) => {
    const days = covered.get(goal.goalId) ?? [];
    const question = {
      ...{ schedule: goal.schedule, calendar, startOn: later(goal.startOn, goal.setUpOn) },
      absences: absences.get(goal.studentId) ?? [],
      measuredOn: [...new Set(days.map(({ on }) => on))],
    };
    const ofPerson = [...groupBy(days, ({ personId }) => personId)].map(
      ([personId, some]) => [personId, new Set(some.map(({ on }) => on)).size] as const,
    );
    const observedDays = observed.get(goal.goalId) ?? [];
    const shown = {
      ...{ goalId: goal.goalId, studentId: goal.studentId, number: goal.number, title: goal.title },
      plan: goal.schedule ? scheduleWords(goal.schedule) : null,
      measuredBy: goal.measuredBy,
      usually: goal.measuredBy ? nameOf(goal.measuredBy) : null,
      weeks: weeksCovered({ ...question, today }, mondays),
      by: ofPerson
        .map(([personId, n]) => ({ name: nameOf(personId), n }))
        .toSorted((a, b) => a.name.localeCompare(b.name)),
      purposes: sums(days.map(({ purpose, entries }) => [purpose, entries])),
      settings: sums(days.map(({ setting, entries }) => [setting ?? "", entries])),
      phases: secondObserved(
        goal.setup.phases,
        observedDays.map(({ on, seconds }) => ({ on, isSeconded: seconds.length > 0 })),
      ),
    };
    return {
      ...{ ...shown, shown, days },
      seconds: observedDays.filter(({ on }) => on >= (mondays[0] ?? "")).flatMap(({ seconds }) => seconds),
      last: goal.summary?.lastOn ?? null,
      isQuiet:
        goal.schedule !== null &&
        isQuiet(goal.summary?.lastOn ?? null, today, calendar, question.absences, goal.setUpOn),
      due: day === null ? null : dueData({ ...question, today: day }).state,
    };
  });
  // In the order of the spine.
  const placeOf = new Map(students.map(({ studentId }, place) => [studentId, place]));
  rows.sort((a, b) => (placeOf.get(a.studentId) ?? 0) - (placeOf.get(b.studentId) ?? 0));
  const byStudent = groupBy(rows, ({ studentId }) => studentId);
  const studentOf = new Map(students.map((one) => [one.studentId, one]));
  const leadsOf = (studentId: string) =>
    listed((recorders.get(studentId) ?? []).filter(({ leads }) => leads).map(({ name }) => name));
  return {
    weeks,
    mondays: mondays.map((monday) => ({ monday, words: monthDay(monday) })),
    day: day === null ? null : { on: day, words: longDate(day) },
    students: students.map(({ studentId, name, initials }) => ({
      ...{ studentId, name, initials },
      goals: (byStudent.get(studentId) ?? []).map(({ shown }) => shown),
    })),
    quiet: rows
      .filter((row) => row.isQuiet)
      .map(({ goalId, studentId, number, title, usually, last }) => ({
        ...{ goalId, studentId, number, title, usually, leads: leadsOf(studentId) },
        ...{ name: studentOf.get(studentId)?.name ?? "", last: last && daysAgo(last, today) },
      })),
    tomorrow: rows
      .filter(
        ({ due, goalId }) => due === "today" || asks.some((one) => one.goalId === goalId && one.on === day),
      )
      .map(({ goalId, studentId, number, title, usually, measuredBy }) => ({
        ...{ goalId, studentId, number, title, usually, measuredBy },
        name: studentOf.get(studentId)?.name ?? "",
        asked: asks.find((one) => one.goalId === goalId && one.on === day) ?? null,
        mayAsk: may(scope.actor, "data.ask", { circleRole: roles.get(studentId) ?? null }),
        recorders: recorders.get(studentId) ?? [],
      })),
    people: [...weeksOfPeople(rows, mondays)]
      .map(([personId, one]) => ({ name: nameOf(personId), ...one }))
      .toSorted((a, b) => a.name.localeCompare(b.name)),
  };
}
