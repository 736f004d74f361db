import { type GoalSummary, goalSummary, summaryFormat } from "#core/progress/goal-figures.ts";
import type { Measure, ObservedEntry } from "#core/measures/measure.ts";
import { mergeOf } from "#core/measures/merge-entries.ts";
import { type EntryFigure, plannedOf } from "#core/progress/points.ts";
import type { Scope } from "../access/scope.ts";
import type { Database, Transaction } from "./connection.ts";
import { goalColumns, type GoalRow, goalTables, toGoal } from "./rows.ts";
import type { SummarisedGoal } from "#core/progress/goal-figures.ts";
import type { Tables } from "./tables.ts";

interface FigureRow extends Pick<
  Tables["entries"],
  | "goal_id"
  | "measure_version"
  | "entry_id"
  | "observed_on"
  | "value"
  | "numerator"
  | "denominator"
  | "purpose"
  | "setting"
> {
  /** Who observed: the observer where one is named, else the author. */
  person_id: string;
  detail: Record<string, unknown> | null;
  /** Minutes since 1970. */
  minute: number;
  sitting_id: string | null;
  entry: ObservedEntry | null;
}

/**
 * Locks the rows of kept facts of these goals, so that saves to one goal take turns, and reads the goals. Rows are locked in one
 * order everywhere: two people who save several goals at once wait for each other, and never for ever.
 *
 * @returns goals by their ids; one that is not there, or of another student, is left out
 */
export async function lockGoals(
  trx: Transaction,
  schoolId: string,
  keys: readonly GoalKey[],
): Promise<Map<string, SummarisedGoal>> {
  const { rows } = await trx.raw<{ rows: GoalRow[] }>(
    `select ${goalColumns} from ${goalTables}
     where g.school_id = :schoolId and g.goal_id = any(:goalIds) order by g.goal_id for update of s`,
    { schoolId, goalIds: keys.map(({ goalId }) => goalId) },
  );
  const ofStudent = new Map(keys.map(({ goalId, studentId }) => [goalId, studentId]));
  return new Map(
    rows
      .filter(({ goal_id, student_id }) => ofStudent.get(goal_id) === student_id)
      .map((row) => [row.goal_id, toGoal(row)]),
  );
}

/** The same for one goal; null where there is none. */
export async function lockGoal(
  trx: Transaction,
  schoolId: string,
  goalId: string,
  studentId: string,
): Promise<SummarisedGoal | null> {
  return (await lockGoals(trx, schoolId, [{ goalId, studentId }])).get(goalId) ?? null;
}

/** How much each version of the goals' measures has planned. Only goals whose measure was changed are asked for. */
async function readPlanned(
  trx: Transaction,
  schoolId: string,
  goals: readonly SummarisedGoal[],
): Promise<(goalId: string, version: number) => number | null> {
  const changed = goals.filter(({ measureVersion }) => measureVersion > 1).map(({ goalId }) => goalId);
  const { rows } =
    changed.length === 0
      ? { rows: [] }
      : await trx.raw<{ rows: { goal_id: string; version: number; measure: Measure }[] }>(
          "select goal_id, version, measure from goal_measures where school_id = ? and goal_id = any(?)",
          [schoolId, changed],
        );
  const known = new Map<string, number | null>([
    ...goals.map(
      ({ goalId, measureVersion, measure }) => [`${goalId} ${measureVersion}`, plannedOf(measure)] as const,
    ),
    ...rows.map(({ goal_id, version, measure }) => [`${goal_id} ${version}`, plannedOf(measure)] as const),
  ]);
  return (goalId, version) => known.get(`${goalId} ${version}`) ?? null;
}

/** The entries that the goals' figures speak of, by goal: kept, and of a measure that compares with today's. */
async function readFigures(
  trx: Transaction,
  schoolId: string,
  goals: readonly SummarisedGoal[],
): Promise<Map<string, EntryFigure[]>> {
  // Which version compares is looked at here: joined to the goals, the statement took half as long again (measured).
  const { rows } = await trx.raw<{ rows: FigureRow[] }>(
    `select goal_id, measure_version, entry_id, observed_on, value, numerator, denominator, purpose, setting, sitting_id,
       floor(extract(epoch from observed_at) / 60)::int as minute,
       case when goal_id = any(:withEntry) then entry end as entry,
       coalesce(observer_id, author_id) as person_id,
       case when goal_id = any(:withDetail) then score -> 'detail' end as detail
     from entries where school_id = :schoolId and goal_id = any(:goalIds) and state = 'kept'
     order by observed_at, entry_id`,
    {
      schoolId,
      goalIds: goals.map(({ goalId }) => goalId),
      withEntry: goals.filter(({ measure }) => mergeOf(measure)).map(({ goalId }) => goalId),
      withDetail: goals
        .filter(({ setup }) => (setup.criterion?.joined?.length ?? 0) > 0)
        .map(({ goalId }) => goalId),
    },
  );
  const figures = new Map<string, EntryFigure[]>(goals.map(({ goalId }) => [goalId, []]));
  const fromVersion = new Map(goals.map(({ goalId, figuresFromVersion }) => [goalId, figuresFromVersion]));
  const planned = await readPlanned(trx, schoolId, goals);
  for (const row of rows)
    if (row.measure_version >= (fromVersion.get(row.goal_id) ?? 1))
      figures.get(row.goal_id)?.push({
        entryId: row.entry_id,
        date: row.observed_on,
        value: row.value,
        numerator: row.numerator,
        denominator: row.denominator,
        purpose: row.purpose,
        setting: row.setting,
        personId: row.person_id,
        detail: row.detail,
        minute: row.minute,
        sittingId: row.sitting_id,
        observed: row.entry,
        planned: planned(row.goal_id, row.measure_version),
      });
  return figures;
}

/**
 * The figures of goals as they were at the end of a day: their summaries, made of the entries through it. Of goals without a later entry
 * it is the summary that is kept.
 */
export async function readSummariesOn(
  { trx, schoolId }: Scope,
  goals: readonly SummarisedGoal[],
  through: string,
): Promise<Map<string, GoalSummary | null>> {
  const later = goals.filter(({ summary }) => (summary?.lastOn ?? "") > through);
  const figures =
    later.length === 0 ? new Map<string, EntryFigure[]>() : await readFigures(trx, schoolId, later);
  return new Map(
    goals.map(({ goalId, setup, summary }) => {
      const all = figures.get(goalId);
      return [
        goalId,
        all
          ? goalSummary(
              setup,
              all.filter(({ date }) => date <= through),
            )
          : summary,
      ];
    }),
  );
}

/** Makes the kept facts of locked goals anew from their entries, and writes those that differ. Answers how many did. */
export async function writeSummaries(
  trx: Transaction,
  schoolId: string,
  goals: readonly SummarisedGoal[],
): Promise<number> {
  const figures = await readFigures(trx, schoolId, goals);
  const summaries = goals.map(({ goalId, setup }) => goalSummary(setup, figures.get(goalId) ?? []));
  const { rowCount } = await trx.raw<{ rowCount: number }>(
    `update goal_summaries s set summary = r.summary
     from unnest(:goalIds::uuid[], :summaries::jsonb[]) as r (goal_id, summary)
     where s.school_id = :schoolId and s.goal_id = r.goal_id and s.summary is distinct from r.summary`,
    {
      schoolId,
      goalIds: goals.map(({ goalId }) => goalId),
      summaries: summaries.map((summary) => JSON.stringify(summary)),
    },
  );
  return rowCount;
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
  return goal !== null && (await writeSummaries(trx, schoolId, [goal])) > 0;
}

/**
 * Rebuilds summaries, as the tables' owner, each in a short transaction of its own.
 *
 * @param only "stale": those of another format than this program writes; else of every goal of every school
 * @returns how many were looked at, and how many rows changed
 */
export async function rebuildSummaries(
  owner: Database,
  only: "stale" | "all" = "all",
): Promise<{ goals: number; changed: number }> {
  const { rows } = await owner.raw<{ rows: { school_id: string; goal_id: string; student_id: string }[] }>(
    `select g.school_id, g.goal_id, g.student_id from goals g
     left join goal_summaries s on s.school_id = g.school_id and s.goal_id = g.goal_id
     where :all or (s.summary is not null and s.summary ->> 'format' is distinct from :format)
     order by g.school_id, g.goal_id`,
    { all: only === "all", format: String(summaryFormat) },
  );
  let changed = 0;
  for (const { school_id, goal_id, student_id } of rows) {
    const mend = (trx: Transaction) =>
      mendSummary(trx, school_id, { goalId: goal_id, studentId: student_id });
    if (await owner.transaction(mend)) changed += 1;
  }
  return { goals: rows.length, changed };
}
