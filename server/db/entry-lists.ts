import { mergeOf } from "#core/measures/merge-entries.ts";
import { type EntryFigure, plannedOf } from "#core/progress/points.ts";
import { minuteOf } from "#core/dates/school-time.ts";
import type { PersonScope, Scope } from "../access/scope.ts";
import { entryColumns, type EntryRow, entryTables, toEntry } from "./rows.ts";
import type { Goal } from "#core/model/goal.ts";
import type { Entry } from "#core/model/entry.ts";
import type { Wanted } from "./wanted.ts";

/** A student's kept entries, newest first, as the report holds them. */
export async function listEntries(
  scope: PersonScope,
  studentId: string,
  { limit = null, ids = null }: Wanted,
): Promise<Entry[]> {
  const { rows } = await scope.trx.raw<{ rows: EntryRow[] }>(
    `select ${entryColumns} from ${entryTables}
     where e.school_id = :schoolId and e.student_id = :studentId and e.state = 'kept'
       and (:ids::uuid[] is null or e.entry_id = any(:ids))
     order by e.observed_at desc, e.entry_id desc limit :limit`,
    { schoolId: scope.schoolId, timeZone: scope.timeZone, studentId, limit, ids: ids && [...ids] },
  );
  return rows.map(toEntry);
}

/** One goal's kept entries in the order observed. */
export async function listGoalEntries(scope: PersonScope, goalId: string): Promise<Entry[]> {
  const { rows } = await scope.trx.raw<{ rows: EntryRow[] }>(
    `select ${entryColumns} from ${entryTables}
     where e.school_id = :schoolId and e.goal_id = :goalId and e.state = 'kept' order by e.observed_at, e.entry_id`,
    { schoolId: scope.schoolId, timeZone: scope.timeZone, goalId },
  );
  return rows.map(toEntry);
}

/** What the goal's figures are made of: the entries whose measure compares with today's. */
export function figuresOf(
  { figuresFromVersion }: Pick<Goal, "figuresFromVersion">,
  entries: readonly Entry[],
): EntryFigure[] {
  return entries
    .filter(({ measureVersion }) => measureVersion >= figuresFromVersion)
    .map(({ entryId, on, time, sittingId, measure, entry, score, purpose, setting, observerId }) => ({
      entryId,
      date: on,
      minute: minuteOf(on, time),
      sittingId,
      observed: mergeOf(measure) ? entry : null,
      planned: plannedOf(measure),
      value: score.value,
      numerator: score.numerator,
      denominator: score.denominator,
      purpose,
      setting,
      personId: observerId,
      detail: score.detail,
    }));
}

/** How many entries a goal ever had, removed ones and those of an earlier measure included. */
export async function countEverRecorded({ trx, schoolId }: Scope, goalId: string): Promise<number> {
  const { rows } = await trx.raw<{ rows: { count: number }[] }>(
    "select count(*)::int as count from entries where school_id = ? and goal_id = ?",
    [schoolId, goalId],
  );
  return rows[0]?.count ?? 0;
}

/** One entry of a student, a removed one too; null where there is none. */
export async function findEntry(
  scope: PersonScope,
  studentId: string,
  entryId: string,
): Promise<Entry | null> {
  const { rows } = await scope.trx.raw<{ rows: EntryRow[] }>(
    `select ${entryColumns} from ${entryTables}
     where e.school_id = :schoolId and e.student_id = :studentId and e.entry_id = :entryId`,
    { schoolId: scope.schoolId, timeZone: scope.timeZone, studentId, entryId },
  );
  return rows[0] ? toEntry(rows[0]) : null;
}
