import type { ObservedEntry } from "#core/measures/measure.ts";
import type { Score } from "#core/measures/score-schema.ts";
import type { EntryFigure } from "#core/progress/goal-figures.ts";
import type { PersonScope, Scope } from "../access/scope.ts";
import { entryColumns, type EntryRow, entryTables, toEntry } from "./rows.ts";
import { type Goal } from "#core/model/goal.ts";
import { type Entry } from "#core/model/entry.ts";
import { shortName } from "#core/model/student-names.ts";
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
    .map(({ entryId, on, score, purpose, setting, observerId }) => ({
      entryId,
      date: on,
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

export interface Revision {
  revision: number;
  act: "made" | "corrected" | "removed" | "restored";
  by: string;
  on: string;
  time: string;
  reason: string | null;
  observedOn: string;
  entry: ObservedEntry;
  score: Score;
  note: string | null;
}

interface RevisionRow extends Omit<Revision, "by" | "observedOn"> {
  given_name: string;
  family_name: string;
  observed_on: string;
}

/** Everything that happened to an entry, first version first. */
export async function listRevisions(scope: PersonScope, entryId: string): Promise<Revision[]> {
  const { rows } = await scope.trx.raw<{ rows: RevisionRow[] }>(
    `select r.revision, r.act, r.reason, r.entry, r.score, r.note, p.given_name, p.family_name,
       (r.observed_at at time zone :timeZone)::date as observed_on,
       (r.at at time zone :timeZone)::date as on, to_char(r.at at time zone :timeZone, 'HH24:MI') as time
     from entry_revisions r join people p on p.school_id = r.school_id and p.person_id = r.person_id
     where r.school_id = :schoolId and r.entry_id = :entryId order by r.revision`,
    { schoolId: scope.schoolId, timeZone: scope.timeZone, entryId },
  );
  return rows.map(({ given_name, family_name, observed_on, ...row }) => ({
    ...row,
    by: shortName(given_name, family_name),
    observedOn: observed_on,
  }));
}
