import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import type { MeetingNote } from "#core/model/meeting.ts";
import { shortName } from "#core/model/student-names.ts";
import { notFound } from "../errors.ts";
import { recordEvent } from "./events.ts";
import type { Tables } from "./tables.ts";

/** Begins a meeting, or answers with the one that goes on today: two screens are at one meeting. */
async function meetingOfToday(scope: PersonScope, studentId: string, newMeetingId: string): Promise<string> {
  requirePermission(scope, "meeting.lead");
  const { trx, schoolId, actor, today } = scope;
  await trx.raw("select 1 from students where school_id = ? and student_id = ? for update", [
    schoolId,
    studentId,
  ]);
  const there = await trx("meetings")
    .where({ school_id: schoolId, student_id: studentId, held_on: today, ended_at: null })
    .orderBy("began_at", "desc")
    .first("meeting_id");
  if (there) return there.meeting_id;
  const begun = await trx("meetings")
    .insert({
      ...{ school_id: schoolId, meeting_id: newMeetingId, student_id: studentId },
      ...{ person_id: actor.personId, held_on: today },
    })
    .onConflict(["school_id", "meeting_id"])
    .ignore()
    .returning<unknown[]>("meeting_id");
  // The form was sent again: its meeting is over, and stays so.
  if (begun.length === 0) return newMeetingId;
  await recordEvent(scope, { thing: "meeting", act: "begun", thingId: newMeetingId, studentId });
  return newMeetingId;
}

/** Writes a question or an agreement down. The form made its id: sent twice, it is one. */
export async function writeMeetingNote(
  scope: PersonScope,
  studentId: string,
  {
    noteId,
    newMeetingId,
    ...note
  }: Pick<MeetingNote, "noteId" | "goalId" | "kind" | "words"> & { newMeetingId: string },
): Promise<void> {
  const meetingId = await meetingOfToday(scope, studentId, newMeetingId);
  const { trx, schoolId, actor } = scope;
  const added = await trx("meeting_notes")
    .insert({
      ...{ school_id: schoolId, note_id: noteId, meeting_id: meetingId, student_id: studentId },
      ...{ goal_id: note.goalId, kind: note.kind, words: note.words, person_id: actor.personId },
    })
    .onConflict(["school_id", "note_id"])
    .ignore()
    .returning<unknown[]>("note_id");
  if (added.length > 0)
    await recordEvent(scope, { thing: "meeting note", act: "made", thingId: noteId, studentId });
}

/** Takes a note of a meeting out again, or puts it back. */
export async function changeMeetingNote(
  scope: PersonScope,
  studentId: string,
  noteId: string,
  act: "removed" | "restored",
): Promise<void> {
  requirePermission(scope, "meeting.lead");
  const { trx, schoolId } = scope;
  const changed = await trx("meeting_notes")
    .where({ school_id: schoolId, student_id: studentId, note_id: noteId })
    .update({ removed_at: act === "removed" ? trx.raw("clock_now()") : null });
  if (changed === 0) notFound();
  await recordEvent(scope, { thing: "meeting note", act, thingId: noteId, studentId });
}

/** What was written in the meetings of a student, the newest meeting first and in it in the order written. */
export async function listMeetingNotes(
  { trx, schoolId }: Scope,
  studentId: string,
  { from, to }: { from: string | null; to: string },
): Promise<MeetingNote[]> {
  const { rows } = await trx.raw<{
    rows: (Pick<Tables["meeting_notes"], "note_id" | "meeting_id" | "goal_id" | "kind" | "words"> & {
      held_on: string;
      given_name: string;
      family_name: string;
    })[];
  }>(
    `select n.note_id, n.meeting_id, n.goal_id, n.kind, n.words, m.held_on, p.given_name, p.family_name
     from meeting_notes n
     join meetings m on m.school_id = n.school_id and m.meeting_id = n.meeting_id
     join people p on p.school_id = n.school_id and p.person_id = n.person_id
     where n.school_id = :schoolId and n.student_id = :studentId and n.removed_at is null
       and (:from::date is null or m.held_on >= :from) and m.held_on <= :to
     order by m.held_on desc, n.at, n.note_id`,
    { schoolId, studentId, from, to },
  );
  return rows.map((row) => ({
    ...{ noteId: row.note_id, meetingId: row.meeting_id, goalId: row.goal_id, kind: row.kind },
    ...{ words: row.words, on: row.held_on, by: shortName(row.given_name, row.family_name) },
  }));
}

/** Ends the meeting of today. One in which nothing was written down was held too. Sent twice, it ends once. */
export async function endMeeting(scope: PersonScope, studentId: string, newMeetingId: string): Promise<void> {
  const meetingId = await meetingOfToday(scope, studentId, newMeetingId);
  const { trx, schoolId } = scope;
  const ended = await trx("meetings")
    .where({ school_id: schoolId, student_id: studentId, meeting_id: meetingId, ended_at: null })
    .update({ ended_at: trx.raw("clock_now()") });
  if (ended > 0) await recordEvent(scope, { thing: "meeting", act: "ended", thingId: meetingId, studentId });
}

/** What is written of no goal is stored under zeros. */
const noGoal = "00000000-0000-0000-0000-000000000000";

/** The person's own notes for a meeting, by goal; under an empty text those of no goal. Nobody else reads them. */
export async function readPreparations(
  { trx, schoolId, actor }: PersonScope,
  studentId: string,
): Promise<Map<string, string>> {
  const rows = await trx("meeting_preparations")
    .where({ school_id: schoolId, student_id: studentId, person_id: actor.personId })
    .select("goal_id", "words");
  return new Map(rows.map(({ goal_id, words }) => [goal_id === noGoal ? "" : goal_id, words]));
}

/**
 * Saves the person's own notes of a goal, or of none. Empty words delete them.
 *
 * @param before what they were when they were read; where another device changed them since, nothing is saved
 */
export async function savePreparation(
  scope: PersonScope,
  studentId: string,
  goalId: string | null,
  { words, before }: { words: string; before: string },
): Promise<"saved" | "conflict"> {
  requirePermission(scope, "meeting.lead");
  const { trx, schoolId, actor } = scope;
  const key = {
    ...{ school_id: schoolId, student_id: studentId },
    ...{ person_id: actor.personId, goal_id: goalId ?? noGoal },
  };
  const row = await trx("meeting_preparations").where(key).forUpdate().first("words");
  const there = row?.words ?? "";
  if (there === words) return "saved";
  if (there !== before) return "conflict";
  if (words === "") await trx("meeting_preparations").where(key).delete();
  else
    await trx("meeting_preparations")
      .insert({ ...key, words })
      .onConflict(["school_id", "student_id", "person_id", "goal_id"])
      .merge({ words, at: trx.raw("clock_now()") });
  return "saved";
}
