import { shortName } from "#core/model/student-names.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { Invalid, notFound } from "../errors.ts";
import type { SaveOutcome } from "./entries.ts";
import { leads } from "./students.ts";
import { bindings, bringEntryUp, holdTally, noteTally, type TallyKey } from "./tallies.ts";

/**
 * Answers what waits for the lead's yes: late presses count from now on and those taken back late do not, or all of it stays as it was.
 *
 * @throws Invalid where a person has corrected the entry since: then it is for them to say what it counts
 */
export async function answerLate(scope: PersonScope, key: TallyKey, yes: boolean): Promise<SaveOutcome> {
  requirePermission(scope, "tally.settle");
  const tally = await holdTally(scope, key, scope.now);
  const { rows } = await scope.trx.raw<{ rows: unknown[] }>(
    `update tally_presses set back = back or (asks = 'take it back') = :yes, asks = null
     where school_id = :schoolId and goal_id = :goalId and tally_on = :on and asks is not null returning press_id`,
    { ...bindings(scope, key), yes },
  );
  if (rows.length === 0) return "already";
  const counts =
    !yes || (await bringEntryUp(scope, key, tally, "The lead let what arrived late of the tally count."));
  if (!counts)
    throw new Invalid({
      form: "This entry was corrected by hand in the meantime. Leave the late presses out, and correct the count by hand if it is wrong.",
    });
  await noteTally(scope, yes ? "late counted" : "late left out", key);
  return "saved";
}

/** Closes the entry of a tally for good, or lets late presses in again. */
export async function settleTally(
  scope: PersonScope,
  { studentId, entryId }: { studentId: string; entryId: string },
  settled: boolean,
): Promise<void> {
  requirePermission(scope, "tally.settle");
  const { trx, schoolId, actor } = scope;
  const { rows } = await trx.raw<{ rows: { goal_id: string; tally_on: string }[] }>(
    `update tallies set settled_by = :by, settled_at = case when :settled then clock_now() end
     where school_id = :schoolId and student_id = :studentId and entry_id = :entryId returning goal_id, tally_on`,
    { schoolId, studentId, entryId, settled, by: settled ? actor.personId : null },
  );
  const tally = rows[0] ?? notFound();
  await noteTally(scope, settled ? "settled" : "opened again", {
    ...{ studentId, goalId: tally.goal_id, on: tally.tally_on },
  });
}

/** What waits for the lead's yes at one tally. */
export interface LatePresses {
  studentId: string;
  goalId: string;
  on: string;
  entryId: string;
  /** How many presses wait to count, and how many to be taken back. */
  more: number;
  fewer: number;
  /** Whose they are. */
  by: string[];
}

/** What waits for this person's yes, of the students whose circle they lead; the oldest first. */
export async function listLate({ trx, schoolId, actor }: PersonScope): Promise<LatePresses[]> {
  const { rows } = await trx.raw<{
    rows: {
      student_id: string;
      goal_id: string;
      tally_on: string;
      entry_id: string;
      more: number;
      fewer: number;
      people: { given: string; family: string }[];
    }[];
  }>(
    `select t.student_id, t.goal_id, t.tally_on, t.entry_id, count(*) filter (where w.asks = 'count it')::int as more,
       count(*) filter (where w.asks = 'take it back')::int as fewer,
       jsonb_agg(distinct jsonb_build_object('given', p.given_name, 'family', p.family_name)) as people
     from tally_presses w
     join tallies t on t.school_id = w.school_id and t.goal_id = w.goal_id and t.tally_on = w.tally_on
     join students st on st.school_id = t.school_id and st.student_id = t.student_id
     join people p on p.school_id = w.school_id and p.person_id = w.person_id
     where w.school_id = :schoolId and w.asks is not null and t.entry_id is not null and st.left_on is null
       and ${leads}
     group by t.student_id, t.goal_id, t.tally_on, t.entry_id order by t.tally_on, t.goal_id`,
    { schoolId, personId: actor.personId },
  );
  return rows.map(({ more, fewer, ...row }) => ({
    ...{
      studentId: row.student_id,
      goalId: row.goal_id,
      on: row.tally_on,
      entryId: row.entry_id,
      more,
      fewer,
    },
    by: row.people.map(({ given, family }) => shortName(given, family)),
  }));
}

/** For how many days after its own a press of a tally still counts by itself. */
export async function readLatePressDays({ trx, schoolId }: Scope): Promise<number> {
  const { rows } = await trx.raw<{ rows: { days: number }[] }>(
    "select late_press_days as days from schools where school_id = ?",
    [schoolId],
  );
  return rows[0]?.days ?? notFound();
}

/** Says for how many days (0 to 60). */
export async function saveLatePressDays(scope: PersonScope, days: number): Promise<void> {
  requirePermission(scope, "school.edit");
  await scope.trx("schools").where({ school_id: scope.schoolId }).update({ late_press_days: days });
}

/** Whether the entry of a tally is closed for good; null where it came from no tally. */
export async function isSettled({ trx, schoolId }: PersonScope, entryId: string): Promise<boolean | null> {
  const { rows } = await trx.raw<{ rows: { settled: boolean }[] }>(
    "select settled_at is not null as settled from tallies where school_id = ? and entry_id = ?",
    [schoolId, entryId],
  );
  return rows[0]?.settled ?? null;
}
