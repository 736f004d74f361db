import type { NotMeasured, NotMeasuredReason } from "#core/model/entry.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import { recordEvent } from "./events.ts";
import { shortName } from "#core/model/student-names.ts";
import type { Wanted } from "./wanted.ts";

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
export async function saveNotMeasured(
  scope: PersonScope,
  made: NewNotMeasured,
): Promise<"saved" | "already"> {
  requirePermission(scope, "entry.record");
  const { trx, schoolId, actor, timeZone } = scope;
  const goal = await trx.raw<{ rows: unknown[] }>(
    "select 1 from goals where school_id = ? and goal_id = ? and student_id = ?",
    [schoolId, made.goalId, made.studentId],
  );
  if (goal.rows.length === 0) notFound();
  const { rows } = await trx.raw<{ rows: unknown[] }>(
    `insert into not_measured (school_id, note_id, goal_id, student_id, sitting_id, person_id, observed_at, observed_on, reason, note)
     values (:schoolId, :noteId, :goalId, :studentId, :sittingId, :personId,
       :observedLocal::timestamp at time zone :timeZone, :observedLocal::date, :reason, :note)
     on conflict do nothing returning note_id`,
    { ...made, schoolId, personId: actor.personId, timeZone },
  );
  if (rows.length === 0) return "already";
  await recordEvent(scope, {
    act: "made",
    thing: "not measured",
    thingId: made.noteId,
    studentId: made.studentId,
  });
  return "saved";
}

const columns = `n.note_id, n.goal_id, n.person_id, n.observed_on as on, n.reason, n.note, n.corrects, n.removed_reason,
  to_char(n.observed_at at time zone :timeZone, 'HH24:MI') as time, p.given_name, p.family_name`;
const tables = "not_measured n join people p on p.school_id = n.school_id and p.person_id = n.person_id";

interface NotMeasuredRow {
  note_id: string;
  goal_id: string;
  person_id: string;
  on: string;
  time: string;
  reason: NotMeasuredReason;
  note: string | null;
  given_name: string;
  family_name: string;
}

const toNotMeasured = (row: NotMeasuredRow): NotMeasured => ({
  noteId: row.note_id,
  goalId: row.goal_id,
  authorId: row.person_id,
  on: row.on,
  time: row.time,
  reason: row.reason,
  note: row.note,
  author: shortName(row.given_name, row.family_name),
});

/** When a student's goals were to be measured and were not, newest first. */
export async function listNotMeasured(
  { trx, schoolId, timeZone }: Scope,
  studentId: string,
  { limit = null, ids = null }: Wanted,
): Promise<NotMeasured[]> {
  const { rows } = await trx.raw<{ rows: NotMeasuredRow[] }>(
    `select ${columns} from ${tables}
     where n.school_id = :schoolId and n.student_id = :studentId and n.removed_at is null
       and (:ids::uuid[] is null or n.note_id = any(:ids))
     order by n.observed_at desc, n.note_id limit :limit`,
    { schoolId, timeZone, studentId, limit, ids: ids && [...ids] },
  );
  return rows.map(toNotMeasured);
}

/** One line of what was not measured: what stands, whether it was removed, and what stood before. */
export interface NotMeasuredHistory extends NotMeasured {
  removed: { by: string; when: string; reason: string | null } | null;
  /** The lines in whose place this one stands, the latest first, each with who replaced it, when and why. */
  before: (NotMeasured & { changedBy: string; changedAt: string; why: string | null })[];
}

export async function findNotMeasured(
  { trx, schoolId, timeZone }: Scope,
  studentId: string,
  noteId: string,
): Promise<NotMeasuredHistory | null> {
  const { rows } = await trx.raw<{
    rows: (NotMeasuredRow & {
      removed_reason: string | null;
      removed_given: string | null;
      removed_family: string | null;
      removed_when: string | null;
    })[];
  }>(
    `with recursive line as (
       select n.*, 0 as depth from not_measured n
       where n.school_id = :schoolId and n.note_id = :noteId and n.student_id = :studentId
       union all
       select b.*, l.depth + 1 from not_measured b join line l on b.school_id = l.school_id and b.note_id = l.corrects
       where l.depth < 200)
     select ${columns}, r.given_name as removed_given, r.family_name as removed_family,
       to_char(n.removed_at at time zone :timeZone, 'YYYY-MM-DD HH24:MI') as removed_when
     from line n join people p on p.school_id = n.school_id and p.person_id = n.person_id
     left join people r on r.school_id = n.school_id and r.person_id = n.removed_by
     order by n.depth`,
    { schoolId, timeZone, noteId, studentId },
  );
  const lines = rows.map((row) => ({
    ...toNotMeasured(row),
    change:
      row.removed_when === null
        ? null
        : {
            by: shortName(row.removed_given ?? "", row.removed_family ?? ""),
            when: row.removed_when,
            reason: row.removed_reason,
          },
  }));
  const [now, ...before] = lines;
  if (!now) return null;
  const { change, ...stands } = now;
  return {
    ...stands,
    removed: change,
    before: before.map(({ change: changed, ...line }) => ({
      ...line,
      changedBy: changed?.by ?? "",
      changedAt: changed?.when ?? "",
      why: changed?.reason ?? null,
    })),
  };
}

export type NotMeasuredChange =
  | { act: "correct"; newId: string; reason: NotMeasuredReason; note: string | null; why: string | null }
  | { act: "remove"; why: string | null }
  | { act: "restore" };

/**
 * Corrects a line by another in its place, removes it or puts it back; nothing is lost by any. A line that no longer stands
 * as it was seen is a conflict.
 */
export async function changeNotMeasured(
  scope: PersonScope,
  ids: { studentId: string; noteId: string },
  change: NotMeasuredChange,
): Promise<"saved" | "conflict"> {
  const { trx, schoolId, actor } = scope;
  const { rows } = await trx.raw<{
    rows: { goal_id: string; person_id: string; removed: boolean; replaced: boolean }[];
  }>(
    `select n.goal_id, n.person_id, n.removed_at is not null as removed,
       exists (select 1 from not_measured x where x.school_id = n.school_id and x.corrects = n.note_id) as replaced
     from not_measured n where n.school_id = ? and n.note_id = ? and n.student_id = ? for update`,
    [schoolId, ids.noteId, ids.studentId],
  );
  const line = rows[0] ?? notFound();
  requirePermission(scope, "entry.correct", line.person_id);
  if (line.replaced || line.removed !== (change.act === "restore")) return "conflict";
  await trx("not_measured")
    .where({ school_id: schoolId, note_id: ids.noteId })
    .update(
      change.act === "restore"
        ? { removed_at: null, removed_by: null, removed_reason: null }
        : { removed_at: trx.raw("clock_now()"), removed_by: actor.personId, removed_reason: change.why },
    );
  if (change.act === "correct")
    await trx.raw(
      `insert into not_measured (school_id, note_id, goal_id, student_id, sitting_id, person_id, observed_at, observed_on, reason, note, corrects)
       select school_id, :newId, goal_id, student_id, sitting_id, person_id, observed_at, observed_on, :reason, :note, note_id
       from not_measured where school_id = :schoolId and note_id = :noteId`,
      {
        schoolId,
        noteId: ids.noteId,
        newId: change.newId,
        reason: change.reason,
        note: change.note,
      },
    );
  await recordEvent(scope, {
    act: change.act === "correct" ? "corrected" : change.act === "remove" ? "removed" : "restored",
    thing: "not measured",
    thingId: ids.noteId,
    studentId: ids.studentId,
  });
  return "saved";
}
