import type { NotMeasured, NotMeasuredReason } from "#core/model/entry.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import { recordStep } from "./revisions.ts";
import { shortName } from "#core/model/student-names.ts";
import type { Wanted } from "./wanted.ts";
import type { Tables } from "./tables.ts";

export interface NewNotMeasured {
  noteId: string;
  goalId: string;
  studentId: string;
  sittingId: string;
  /** The school's own time, `YYYY-MM-DDTHH:MM:SS`. */
  observedLocal: string;
  reason: NotMeasuredReason;
  note: string | null;
  noteForTeam: boolean;
}

/** Inserts a note that a goal was not measured. The same id sent twice is one. */
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
    `insert into not_measured (school_id, note_id, goal_id, student_id, sitting_id, person_id, observed_at, observed_on, reason, note,
       note_for_team)
     values (:schoolId, :noteId, :goalId, :studentId, :sittingId, :personId,
       :observedLocal::timestamp at time zone :timeZone, :observedLocal::date, :reason, :note, :noteForTeam)
     on conflict do nothing returning note_id`,
    {
      ...made,
      noteForTeam: made.noteForTeam && made.note !== null,
      schoolId,
      personId: actor.personId,
      timeZone,
    },
  );
  if (rows.length === 0) return "already";
  const { reason, note, noteForTeam } = made;
  const step = { thingId: made.noteId, revision: 1, act: "made" as const };
  await recordStep(scope, "not measured", {
    studentId: made.studentId,
    ...step,
    content: { reason, note, noteForTeam },
  });
  return "saved";
}

const columns = `n.note_id, n.goal_id, n.person_id, n.observed_on as on, n.reason, n.note, n.note_for_team, n.revision,
  to_char(n.observed_at at time zone :timeZone, 'HH24:MI') as time, p.given_name, p.family_name`;
const tables = "not_measured n join people p on p.school_id = n.school_id and p.person_id = n.person_id";

interface NotMeasuredRow extends Pick<
  Tables["not_measured"],
  "note_id" | "goal_id" | "person_id" | "reason" | "note" | "note_for_team" | "revision"
> {
  on: string;
  time: string;
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
  noteForTeam: row.note_for_team,
  revision: row.revision,
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

/** A line of what was not measured, and by whom it was removed, if it was. */
export interface FoundNotMeasured extends NotMeasured {
  removed: { by: string; when: string; reason: string | null } | null;
}

/** One note that nothing was measured, a removed one too; null where there is none. */
export async function findNotMeasured(
  { trx, schoolId, timeZone }: Scope,
  studentId: string,
  noteId: string,
): Promise<FoundNotMeasured | null> {
  const { rows } = await trx.raw<{
    rows: (NotMeasuredRow & {
      removed_reason: string | null;
      removed_given: string | null;
      removed_family: string | null;
      removed_when: string | null;
    })[];
  }>(
    `select ${columns}, r.given_name as removed_given, r.family_name as removed_family,
       to_char(n.removed_at at time zone :timeZone, 'YYYY-MM-DD HH24:MI') as removed_when,
       (select v.reason from revisions v where v.school_id = n.school_id and v.thing = 'not measured'
          and v.thing_id = n.note_id and v.revision = n.revision) as removed_reason
     from ${tables} left join people r on r.school_id = n.school_id and r.person_id = n.removed_by
     where n.school_id = :schoolId and n.note_id = :noteId and n.student_id = :studentId`,
    { schoolId, timeZone, noteId, studentId },
  );
  const [row] = rows;
  if (!row) return null;
  const { removed_when: when, removed_reason: reason } = row;
  const by = shortName(row.removed_given ?? "", row.removed_family ?? "");
  return { ...toNotMeasured(row), removed: when === null ? null : { by, when, reason } };
}

export type NotMeasuredChange = {
  /** The one that stood when the form was opened; null where any may. */
  expectedRevision: number | null;
  why: string | null;
} & (
  | { act: "corrected"; reason: NotMeasuredReason; note: string | null; noteForTeam: boolean }
  | { act: "removed" | "restored" }
);

/** Corrects a note, removes it or puts it back; the earlier version stays in its history. A conflict where it was changed since it was seen. */
export async function changeNotMeasured(
  scope: PersonScope,
  ids: { studentId: string; noteId: string },
  change: NotMeasuredChange,
): Promise<"saved" | "conflict"> {
  const { trx, schoolId, actor } = scope;
  const { rows } = await trx.raw<{
    rows: {
      person_id: string;
      removed: boolean;
      revision: number;
      reason: NotMeasuredReason;
      note: string | null;
      noteForTeam: boolean;
    }[];
  }>(
    `select person_id, removed_at is not null as removed, revision, reason, note, note_for_team as "noteForTeam" from not_measured
     where school_id = ? and note_id = ? and student_id = ? for update`,
    [schoolId, ids.noteId, ids.studentId],
  );
  const line = rows[0] ?? notFound();
  requirePermission(scope, "entry.correct", line.person_id);
  const { act, why } = change;
  if (line.removed !== (act === "restored")) return "conflict";
  if (change.expectedRevision !== null && line.revision !== change.expectedRevision) return "conflict";
  const content = act === "corrected" ? change : line;
  const revision = line.revision + 1;
  await trx("not_measured")
    .where({ school_id: schoolId, note_id: ids.noteId })
    .update({
      ...{ revision, reason: content.reason, note: content.note },
      note_for_team: content.noteForTeam && content.note !== null,
      removed_at: act === "removed" ? trx.raw("clock_now()") : null,
      removed_by: act === "removed" ? actor.personId : null,
    });
  await recordStep(scope, "not measured", {
    studentId: ids.studentId,
    ...{ thingId: ids.noteId, revision, act, reason: why },
    content: { reason: content.reason, note: content.note, noteForTeam: content.noteForTeam },
  });
  return "saved";
}
