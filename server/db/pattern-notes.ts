import type { PatternNote } from "#core/model/pattern-note.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import { recordEvent } from "./events.ts";
import { shortName } from "#core/model/student-names.ts";
import type { Wanted } from "./wanted.ts";
import type { Tables } from "./tables.ts";

/** Inserts a pattern sentence into the report. A sentence that is there already is not inserted again. */
export async function addPatternNote(
  scope: PersonScope,
  ids: { studentId: string; noteId: string },
  { words, strength, from, to }: Pick<PatternNote, "words" | "strength" | "from" | "to">,
): Promise<void> {
  requirePermission(scope, "entry.record");
  const { trx, schoolId, actor, today } = scope;
  const { rows } = await trx.raw<{ rows: unknown[] }>(
    `insert into pattern_notes (school_id, note_id, student_id, author_id, words, strength, from_on, to_on, noted_on)
     values (:schoolId, :noteId, :studentId, :personId, :words, :strength, :from, :to, :today)
     on conflict do nothing returning note_id`,
    { ...ids, ...{ words, strength, from, to }, schoolId, personId: actor.personId, today },
  );
  if (rows.length > 0)
    await recordEvent(scope, {
      act: "made",
      thing: "pattern",
      thingId: ids.noteId,
      studentId: ids.studentId,
    });
}

interface NoteRow extends Pick<
  Tables["pattern_notes"],
  "note_id" | "author_id" | "words" | "strength" | "from_on" | "to_on" | "noted_on"
> {
  time: string;
  given_name: string;
  family_name: string;
  removed_when: string | null;
  removed_given: string | null;
  removed_family: string | null;
}

const columns = `n.note_id, n.author_id, n.words, n.strength, n.from_on, n.to_on, n.noted_on,
  to_char(n.noted_at at time zone :timeZone, 'HH24:MI') as time, p.given_name, p.family_name,
  to_char(n.removed_at at time zone :timeZone, 'YYYY-MM-DD HH24:MI') as removed_when,
  r.given_name as removed_given, r.family_name as removed_family`;
const tables = `pattern_notes n join people p on p.school_id = n.school_id and p.person_id = n.author_id
  left join people r on r.school_id = n.school_id and r.person_id = n.removed_by`;

const toNote = (row: NoteRow): PatternNote => ({
  ...{ noteId: row.note_id, authorId: row.author_id, words: row.words, strength: row.strength },
  ...{ from: row.from_on, to: row.to_on, on: row.noted_on, time: row.time },
  author: shortName(row.given_name, row.family_name),
  removed:
    row.removed_when === null
      ? null
      : { by: shortName(row.removed_given ?? "", row.removed_family ?? ""), when: row.removed_when },
});

/** The sentences that stand in a student's report, newest first. */
export async function listPatternNotes(
  { trx, schoolId, timeZone }: Scope,
  studentId: string,
  { limit = null, ids = null }: Wanted,
): Promise<PatternNote[]> {
  const { rows } = await trx.raw<{ rows: NoteRow[] }>(
    `select ${columns} from ${tables}
     where n.school_id = :schoolId and n.student_id = :studentId and n.removed_at is null
       and (:ids::uuid[] is null or n.note_id = any(:ids))
     order by n.noted_at desc, n.note_id limit :limit`,
    { schoolId, timeZone, studentId, limit, ids: ids && [...ids] },
  );
  return rows.map(toNote);
}

/**
 * One pattern written into a student's report.
 *
 * @throws NotFound
 */
export async function findPatternNote(
  { trx, schoolId, timeZone }: Scope,
  studentId: string,
  noteId: string,
): Promise<PatternNote> {
  const { rows } = await trx.raw<{ rows: NoteRow[] }>(
    `select ${columns} from ${tables}
     where n.school_id = :schoolId and n.student_id = :studentId and n.note_id = :noteId`,
    { schoolId, timeZone, studentId, noteId },
  );
  return rows[0] ? toNote(rows[0]) : notFound();
}

/** Takes a sentence out of the report, or puts it back. */
export async function changePatternNote(
  scope: PersonScope,
  ids: { studentId: string; noteId: string },
  act: "removed" | "restored",
): Promise<void> {
  const { authorId, removed } = await findPatternNote(scope, ids.studentId, ids.noteId);
  requirePermission(scope, "entry.remove", authorId);
  if ((removed !== null) === (act === "removed")) return;
  const { trx, actor, schoolId } = scope;
  await trx.raw(
    `update pattern_notes set removed_at = ${act === "removed" ? "clock_now()" : "null"}, removed_by = :by
     where school_id = :schoolId and note_id = :noteId
       and (:act = 'removed' or not exists (select 1 from pattern_notes o
         where o.school_id = pattern_notes.school_id and o.student_id = pattern_notes.student_id
           and o.words = pattern_notes.words and o.removed_at is null))`,
    { noteId: ids.noteId, act, by: act === "removed" ? actor.personId : null, schoolId },
  );
  await recordEvent(scope, { act, thing: "pattern", thingId: ids.noteId, studentId: ids.studentId });
}
