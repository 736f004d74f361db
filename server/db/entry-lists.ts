import { groupBy } from "#core/lists/group-by.ts";
import type { Scope } from "../access/scope.ts";
import { entryColumns, type EntryRow, entryTables, toEntry } from "./rows.ts";
import type { Entry } from "#core/model/entry.ts";
import type { Wanted } from "./wanted.ts";

/** A student's kept entries, newest first, as the report holds them. */
export async function listEntries(
  scope: Scope,
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
export async function listGoalEntries(scope: Scope, goalId: string): Promise<Entry[]> {
  const { rows } = await scope.trx.raw<{ rows: EntryRow[] }>(
    `select ${entryColumns} from ${entryTables}
     where e.school_id = :schoolId and e.goal_id = :goalId and e.state = 'kept' order by e.observed_at, e.entry_id`,
    { schoolId: scope.schoolId, timeZone: scope.timeZone, goalId },
  );
  return rows.map(toEntry);
}

/** The kept entries of several goals through a day, each goal's in the order observed. */
export async function listEntriesOfGoals(
  scope: Scope,
  goalIds: readonly string[],
  through: string,
): Promise<Map<string, Entry[]>> {
  const { rows } = await scope.trx.raw<{ rows: EntryRow[] }>(
    `select ${entryColumns} from ${entryTables}
     where e.school_id = :schoolId and e.goal_id = any(:goalIds) and e.state = 'kept' and e.observed_on <= :through
     order by e.observed_at, e.entry_id`,
    { schoolId: scope.schoolId, timeZone: scope.timeZone, goalIds: [...goalIds], through },
  );
  return groupBy(rows.map(toEntry), ({ goalId }) => goalId);
}

/** What was assessed with a rubric: a day, the short name of the goals, and how many students. */
export interface AssessedDay {
  on: string;
  title: string;
  studentIds: string[];
}

/** The days since a day on which some of these students were assessed with a rubric, by the short name of their goals, the latest first. */
export async function listAssessedDays(
  { trx, schoolId }: Scope,
  studentIds: readonly string[],
  since: string,
): Promise<AssessedDay[]> {
  const { rows } = await trx.raw<{ rows: { on: string; title: string; students: string[] }[] }>(
    `select e.observed_on as on, g.title, jsonb_agg(distinct e.student_id) as students
     from entries e join goals g on g.school_id = e.school_id and g.goal_id = e.goal_id
     where e.school_id = :schoolId and e.student_id = any(:studentIds) and e.observed_on >= :since and e.state = 'kept'
       and e.entry ->> 'kind' = 'rubric'
     group by e.observed_on, g.title order by e.observed_on desc, count(distinct e.student_id) desc, g.title`,
    { schoolId, studentIds: [...studentIds], since },
  );
  return rows.map(({ students, ...row }) => ({ ...row, studentIds: students }));
}

/** A student's kept entries of one day, in the order observed. */
export async function listEntriesOfDay(scope: Scope, studentId: string, on: string): Promise<Entry[]> {
  const { rows } = await scope.trx.raw<{ rows: EntryRow[] }>(
    `select ${entryColumns} from ${entryTables}
     where e.school_id = :schoolId and e.student_id = :studentId and e.observed_on = :on and e.state = 'kept'
     order by e.observed_at, e.entry_id`,
    { schoolId: scope.schoolId, timeZone: scope.timeZone, studentId, on },
  );
  return rows.map(toEntry);
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
export async function findEntry(scope: Scope, studentId: string, entryId: string): Promise<Entry | null> {
  const { rows } = await scope.trx.raw<{ rows: EntryRow[] }>(
    `select ${entryColumns} from ${entryTables}
     where e.school_id = :schoolId and e.student_id = :studentId and e.entry_id = :entryId`,
    { schoolId: scope.schoolId, timeZone: scope.timeZone, studentId, entryId },
  );
  return rows[0] ? toEntry(rows[0]) : null;
}
