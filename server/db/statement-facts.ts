import type { DateSpan } from "#core/dates/date-span.ts";
import type { SummarisedGoal } from "#core/progress/goal-figures.ts";
import { type JudgedGoal, judgeForReport } from "#core/report/compose-goal.ts";
import { type StatementFacts, statementFacts } from "#core/report/statement-facts.ts";
import { begunPeriods, countedThrough } from "#core/schedule/report-week.ts";
import { en } from "#core/words/en.ts";
import type { PersonScope } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import { type KeptCalendar, readCalendar } from "./calendar.ts";
import { contentTag } from "./content-tag.ts";
import { listDecisions } from "./decisions.ts";
import { listEntriesOfGoals } from "./entry-lists.ts";
import { findGoal, listAbsences } from "./students.ts";

/**
 * The reporting period that begins on a day.
 *
 * @throws NotFound where none does, or it has not begun
 */
export const periodFrom = (calendar: KeptCalendar, from: string, today: string): DateSpan =>
  begunPeriods(calendar, today).find(({ fromOn }) => fromOn === from) ?? notFound();

/**
 * What the numbers say of a goal in a reporting period, through its last day or today.
 *
 * @param from the first day of the period
 * @returns also a tag that tells whether a page still shows these numbers
 * @throws NotFound
 */
export async function readStatementFacts(
  scope: PersonScope,
  { studentId, goalId }: { studentId: string; goalId: string },
  from: string,
): Promise<{
  period: DateSpan;
  goal: SummarisedGoal;
  judged: JudgedGoal;
  facts: StatementFacts;
  seen: string;
}> {
  const calendar = await readCalendar(scope);
  const period = periodFrom(calendar, from, scope.today);
  const through = countedThrough(period, scope.today);
  const goal = await findGoal(scope, studentId, goalId);
  const entries = await listEntriesOfGoals(scope, [goalId], through);
  const judged = judgeForReport(
    goal,
    { from: period.fromOn, to: through },
    {
      calendar,
      entriesOf: (id) => entries.get(id) ?? [],
      decisions: (await listDecisions(scope, studentId)).filter(({ removed }) => removed === null),
      absences: await listAbsences(scope, studentId),
    },
    en,
  );
  const facts = statementFacts(judged, period, { calendar, through });
  return { period, goal, judged, facts, seen: contentTag(facts) };
}
