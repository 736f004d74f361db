import type { PersonScope } from "#server/access/scope.ts";
import { listDecisions } from "#server/db/decisions.ts";
import { listDue } from "#server/db/due.ts";
import { listGoalEntries } from "#server/db/entry-lists.ts";
import { listCircle, listRenamedParts } from "#server/db/goals.ts";
import { listNotMeasured } from "#server/db/not-measured.ts";
import type { Goal } from "#core/model/goal.ts";
import type { SummarisedGoal } from "#core/progress/goal-figures.ts";
import { listObservedTwice, listSecondRatings } from "#server/db/second-observations.ts";
import { findStudent, listAbsences } from "#server/db/students.ts";
import type { SchoolCalendar } from "#core/schedule/calendar.ts";
import { type OpenGoal, openGoal } from "./open-goal.server.ts";

/** So many of the latest that were not measured stand in a chart. */
const mostNotMeasured = 400;

/** Reads what the page of one goal shows. */
export async function readOpenGoal(
  scope: PersonScope,
  goal: Goal,
  goals: readonly SummarisedGoal[],
  { today, calendar, scale }: { today: string; calendar: SchoolCalendar; scale: "linear" | "log" },
): Promise<OpenGoal> {
  const { studentId, goalId } = goal;
  const due = await listDue(scope, calendar, today);
  const circle = await listCircle(scope, studentId);
  return openGoal(goal, await listGoalEntries(scope, goalId), {
    ...{ today, calendar, goals, scale, student: await findStudent(scope, studentId) },
    decisions: await listDecisions(scope, studentId),
    absences: await listAbsences(scope, studentId),
    notMeasured: await listNotMeasured(scope, studentId, { limit: mostNotMeasured }),
    twice: await listObservedTwice(scope, goalId),
    ratings: goal.measure.kind === "rubric" ? await listSecondRatings(scope, studentId) : [],
    renamed: await listRenamedParts(scope, goalId),
    due: due.find((one) => one.goalId === goalId)?.due ?? null,
    measuredBy: circle.find(({ personId }) => personId === goal.measuredBy)?.name ?? null,
  });
}
