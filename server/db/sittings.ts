import type { NotMeasuredReason } from "#core/report/entry-line.ts";
import { notFound, requirePermission, type Visit } from "../access/visit.ts";
import { noteAct } from "./audit.ts";
import { shortName } from "./rows.ts";

/** Notes that a sitting was held; the same one told twice, by two entries of it, is one. */
export async function keepSitting(
  { trx, person }: Visit,
  sitting: { sittingId: string; startedAt: string },
): Promise<void> {
  await trx.raw(
    `insert into sittings (school_id, sitting_id, person_id, started_at) values (?, ?, ?, ?) on conflict do nothing`,
    [person.schoolId, sitting.sittingId, person.personId, sitting.startedAt],
  );
}

export interface NewNotMeasured {
  noteId: string;
  goalId: string;
  studentId: string;
  sittingId: string;
  /** The school's own time, `YYYY-MM-DDTHH:MM:SS`. */
  observedLocal: string;
  reason: NotMeasuredReason;
  note: string | null;
}

/** Keeps that a goal was to be measured and was not. The same id sent twice is one. */
export async function saveNotMeasured(visit: Visit, made: NewNotMeasured): Promise<"saved" | "already"> {
  requirePermission(visit, "entry.record");
  const { trx, person } = visit;
  const goal = await trx.raw<{ rows: unknown[] }>(
    "select 1 from goals where school_id = ? and goal_id = ? and student_id = ?",
    [person.schoolId, made.goalId, made.studentId],
  );
  if (goal.rows.length === 0) notFound();
  const { rows } = await trx.raw<{ rows: unknown[] }>(
    `insert into not_measured (school_id, note_id, goal_id, student_id, sitting_id, person_id, observed_at, observed_on, reason, note)
     values (:schoolId, :noteId, :goalId, :studentId, :sittingId, :personId,
       :observedLocal::timestamp at time zone :timeZone, :observedLocal::date, :reason, :note)
     on conflict do nothing returning note_id`,
    { ...made, schoolId: person.schoolId, personId: person.personId, timeZone: person.timeZone },
  );
  if (rows.length === 0) return "already";
  await noteAct(visit, {
    act: `not measured, ${made.reason}`,
    thing: "goal",
    thingId: made.goalId,
    studentId: made.studentId,
  });
  return "saved";
}

export interface NotMeasured {
  noteId: string;
  goalId: string;
  on: string;
  time: string;
  reason: NotMeasuredReason;
  note: string | null;
  author: string;
}

/** When a student's goals were to be measured and were not, newest first. */
export async function listNotMeasured(
  { trx, person }: Visit,
  studentId: string,
  { limit }: { limit: number },
): Promise<NotMeasured[]> {
  const { rows } = await trx.raw<{
    rows: (Omit<NotMeasured, "noteId" | "goalId" | "author"> & {
      note_id: string;
      goal_id: string;
      given_name: string;
      family_name: string;
    })[];
  }>(
    `select n.note_id, n.goal_id, n.observed_on as on, to_char(n.observed_at at time zone :timeZone, 'HH24:MI') as time,
       n.reason, n.note, p.given_name, p.family_name
     from not_measured n join people p on p.school_id = n.school_id and p.person_id = n.person_id
     where n.school_id = :schoolId and n.student_id = :studentId order by n.observed_at desc, n.note_id limit :limit`,
    { schoolId: person.schoolId, timeZone: person.timeZone, studentId, limit },
  );
  return rows.map(({ note_id, goal_id, given_name, family_name, ...row }) => ({
    ...row,
    noteId: note_id,
    goalId: goal_id,
    author: shortName(given_name, family_name),
  }));
}
