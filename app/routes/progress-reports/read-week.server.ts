import { groupBy } from "#core/lists/group-by.ts";
import { judgeGoal } from "#core/progress/goal-figures.ts";
import { isOfSpan, setupOn } from "#core/report/compose-goal.ts";
import { begunPeriods, countedThrough } from "#core/schedule/report-week.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { listRecentAbsences } from "#server/db/due.ts";
import { listPeriodStatements, listStatementWriters } from "#server/db/progress-statements.ts";
import { listCaseloadGoals, listCircleRoles, listStudents } from "#server/db/students.ts";
import { readSummariesOn } from "#server/db/summaries.ts";
import { periodFrom } from "#server/db/statement-facts.ts";
import { noteReads } from "#server/db/reads.ts";
import type { WeekGoal } from "./week-goal.ts";

/**
 * The statements of a reporting period over the caseload: of students whose circle the person leads, and of goals whose statements they
 * were chosen to write. An administrator in a circle sees its goals too.
 */
export async function readStatementWeek(scope: PersonScope, from: string) {
  const { today, actor } = scope;
  const calendar = await readCalendar(scope);
  const periods = begunPeriods(calendar, today);
  const period = periodFrom(calendar, from, today);
  const through = countedThrough(period, today);
  const students = await listStudents(scope);
  const roles = new Map(
    (
      await listCircleRoles(
        scope,
        students.map(({ studentId }) => studentId),
      )
    ).map(({ studentId, circleRole }) => [studentId, circleRole]),
  );
  const span = { from: period.fromOn, to: through };
  const all = (await listCaseloadGoals(scope)).filter((goal) => isOfSpan(goal, span));
  const writers = await listStatementWriters(
    scope,
    all.map(({ goalId }) => goalId),
  );
  await noteReads(
    scope,
    "statements",
    all.map(({ studentId }) => studentId),
  );
  const goals = all.filter(
    ({ goalId, studentId }) =>
      roles.get(studentId) === "lead" ||
      writers.get(goalId)?.personId === actor.personId ||
      actor.role === "administrator",
  );
  const ids = goals.map(({ goalId }) => goalId);
  const statements = await listPeriodStatements(scope, ids, period);
  const summaries = await readSummariesOn(scope, goals, through);
  const absences = await listRecentAbsences(scope, today);
  const byStudent = groupBy(
    goals.map((goal): WeekGoal & { studentId: string } => {
      const { goalId, studentId, number, title } = goal;
      const summary = summaries.get(goalId) ?? null;
      const setup = setupOn(goal.setup, through);
      const standing =
        summary &&
        judgeGoal(summary, setup, {
          ...{ today: through, calendar, lastOn: summary.lastOn, absences: absences.get(studentId) },
        }).standing;
      const writer = writers.get(goalId);
      const statement = statements.get(goalId);
      return {
        ...{ goalId, studentId, number, title },
        state: statement?.ready
          ? "ready"
          : statement && (statement.content.words || statement.content.translation || statement.rating)
            ? "drafted"
            : "to write",
        isNewer: statement?.ready?.isNewer ?? false,
        reached: standing?.key === "reached",
        behind: standing?.key === "behind",
        noData: (summary?.last?.date ?? "") < period.fromOn,
        isMine: writer ? writer.personId === actor.personId : roles.get(studentId) === "lead",
        mayWrite: roles.get(studentId) === "lead" || writer?.personId === actor.personId,
        with: writer && writer.personId !== actor.personId ? writer.name : null,
      };
    }),
    ({ studentId }) => studentId,
  );
  return {
    period: { ...period, isOver: period.toOn < today },
    periods,
    leads: [...roles.values()].includes("lead"),
    students: students.flatMap(({ studentId, name, initials }) => {
      const own = byStudent.get(studentId);
      return own ? [{ studentId, name, initials, goals: own }] : [];
    }),
  };
}
