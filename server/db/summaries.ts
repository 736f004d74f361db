import type { Purpose } from "#core/criteria/criterion.ts";
import { type EntryFigure, type GoalSummary, goalSummary } from "#core/progress/goal-figures.ts";
import type { Scope } from "../access/scope.ts";
import type { Database, Transaction } from "./connection.ts";
import { goalColumns, type GoalRow, goalTables, toGoal } from "./rows.ts";
import type { SummarisedGoal } from "#core/progress/goal-figures.ts";

interface FigureRow {
  entry_id: string;
  observed_on: string;
  value: number | null;
  numerator: number | null;
  denominator: number | null;
  purpose: Purpose;
  setting: string | null;
  /** Who observed: the observer where one is named, else the author. */
  person_id: string;
  detail: Record<string, unknown> | null;
}

/** Locks a goal's row of kept facts, so that saves to one goal take turns, and reads the goal. */
export async function lockGoal(
  trx: Transaction,
  schoolId: string,
  goalId: string,
  studentId: string,
): Promise<SummarisedGoal | null> {
  const { rows } = await trx.raw<{ rows: GoalRow[] }>(
    `select ${goalColumns} from ${goalTables}
     where g.school_id = :schoolId and g.goal_id = :goalId and g.student_id = :studentId for update of s`,
    { schoolId, goalId, studentId },
  );
  return rows[0] ? toGoal(rows[0]) : null;
}

/** The entries that the goal's figures speak of: kept, and of a measure that compares with today's. */
async function readFigures(trx: Transaction, schoolId: string, goal: SummarisedGoal): Promise<EntryFigure[]> {
  const { rows } = await trx.raw<{ rows: FigureRow[] }>(
    `select entry_id, observed_on, value, numerator, denominator, purpose, setting,
       coalesce(observer_id, author_id) as person_id,
       case when :withDetail then score -> 'detail' end as detail
     from entries where school_id = :schoolId and goal_id = :goalId and state = 'kept' and measure_version >= :fromVersion
     order by observed_at, entry_id`,
    {
      schoolId,
      goalId: goal.goalId,
      fromVersion: goal.figuresFromVersion,
      withDetail: (goal.setup.criterion?.joined?.length ?? 0) > 0,
    },
  );
  return rows.map((row) => ({
    entryId: row.entry_id,
    date: row.observed_on,
    value: row.value,
    numerator: row.numerator,
    denominator: row.denominator,
    purpose: row.purpose,
    setting: row.setting,
    personId: row.person_id,
    detail: row.detail,
  }));
}

/** Makes the kept facts of a locked goal anew from its entries. */
export async function computeSummary(
  trx: Transaction,
  schoolId: string,
  goal: SummarisedGoal,
): Promise<GoalSummary> {
  return goalSummary(goal.setup, await readFigures(trx, schoolId, goal));
}

export interface GoalKey {
  goalId: string;
  studentId: string;
}

/** Every goal of the scope's school. */
export async function listGoalKeys({ trx, schoolId }: Scope): Promise<GoalKey[]> {
  const rows = await trx<{ school_id: string; goal_id: string; student_id: string }>("goals")
    .where({ school_id: schoolId })
    .orderBy("goal_id")
    .select("goal_id", "student_id");
  return rows.map(({ goal_id, student_id }) => ({ goalId: goal_id, studentId: student_id }));
}

/** Makes a goal's summary anew from its entries and writes it where it differs. Answers whether it did. */
export async function mendSummary(
  trx: Transaction,
  schoolId: string,
  { goalId, studentId }: GoalKey,
): Promise<boolean> {
  await trx.raw(
    "insert into goal_summaries (school_id, goal_id, student_id) values (?, ?, ?) on conflict do nothing",
    [schoolId, goalId, studentId],
  );
  const goal = await lockGoal(trx, schoolId, goalId, studentId);
  if (!goal) return false;
  const summary = await computeSummary(trx, schoolId, goal);
  const updated = await trx.raw<{ rowCount: number }>(
    `update goal_summaries set summary = :summary::jsonb
     where school_id = :schoolId and goal_id = :goalId and summary is distinct from :summary::jsonb`,
    { summary: JSON.stringify(summary), schoolId, goalId },
  );
  return updated.rowCount > 0;
}

/** Rebuilds the summary of every goal of every school, as the tables' owner. Answers how many rows changed. */
export async function rebuildSummaries(owner: Database): Promise<{ goals: number; changed: number }> {
  const { rows } = await owner.raw<{ rows: { school_id: string; goal_id: string; student_id: string }[] }>(
    "select school_id, goal_id, student_id from goals order by school_id, goal_id",
  );
  let changed = 0;
  for (const { school_id, goal_id, student_id } of rows) {
    const mend = (trx: Transaction) =>
      mendSummary(trx, school_id, { goalId: goal_id, studentId: student_id });
    if (await owner.transaction(mend)) changed += 1;
  }
  return { goals: rows.length, changed };
}
