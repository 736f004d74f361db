import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { recordEvent } from "./events.ts";
import { inCircle } from "./students.ts";

/** Of a day, or a period of it: it was watched and nothing happened, or nobody watched. */
export type WatchedState = "none" | "not observed";

export interface WatchedDay {
  on: string;
  /** The period's name; empty for the whole day. */
  period: string;
  state: WatchedState;
}

/** Says what a day or a period was, or takes it back with null. Said twice it is one; said otherwise, the last stands. */
export async function markWatched(
  scope: PersonScope,
  studentId: string,
  { on, period, state }: Omit<WatchedDay, "state"> & { state: WatchedState | null },
): Promise<void> {
  requirePermission(scope, "incident.record");
  const { trx, schoolId, actor } = scope;
  const key = { school_id: schoolId, student_id: studentId, watched_on: on, period };
  if (state === null) await trx("watched_days").where(key).delete();
  else
    await trx("watched_days")
      .insert({ ...key, state, marked_by: actor.personId })
      .onConflict(["school_id", "student_id", "watched_on", "period"])
      .merge(["state", "marked_by"]);
  await recordEvent(scope, {
    ...{ thing: "watched day", act: state ?? "taken back" },
    ...{ thingId: null, studentId, on },
  });
}

/** What was said of a student's days and periods from a date on: nothing happened, not observed, absent. */
export async function listWatched(
  { trx, schoolId }: Scope,
  studentId: string,
  fromOn: string,
): Promise<WatchedDay[]> {
  const { rows } = await trx.raw<{ rows: { watched_on: string; period: string; state: WatchedState }[] }>(
    `select watched_on, period, state from watched_days
     where school_id = ? and student_id = ? and watched_on >= ? order by watched_on, period`,
    [schoolId, studentId, fromOn],
  );
  return rows.map(({ watched_on, period, state }) => ({ on: watched_on, period, state }));
}

/** What was said of one day, of each student in the person's circles. */
export async function listWatchedOn(
  { trx, schoolId, actor }: PersonScope,
  on: string,
): Promise<(WatchedDay & { studentId: string })[]> {
  const { rows } = await trx.raw<{
    rows: { student_id: string; watched_on: string; period: string; state: WatchedState }[];
  }>(
    `select w.student_id, w.watched_on, w.period, w.state from watched_days w
     join students st on st.school_id = w.school_id and st.student_id = w.student_id
     where w.school_id = :schoolId and w.watched_on = :on and ${inCircle}`,
    { schoolId, personId: actor.personId, on },
  );
  return rows.map(({ student_id, watched_on, period, state }) => ({
    ...{ studentId: student_id, on: watched_on, period, state },
  }));
}
