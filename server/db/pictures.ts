import type { MadePicture } from "../attachments/make-picture.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { Invalid, notFound } from "../errors.ts";
import type { SaveOutcome } from "./entries.ts";
import { recordEvent } from "./events.ts";

/**
 * Adds the picture of a jot that names it. The device made its id: sent twice, it is one.
 *
 * @param inFolder its bytes are in the folder already, and not stored here
 * @throws Invalid where the jot does not name it
 */
export async function addPicture(
  scope: PersonScope,
  ids: { studentId: string; jotId: string; pictureId: string },
  { type, width, height, content, sha256, sentSha256 }: MadePicture,
  { inFolder }: { inFolder: boolean },
): Promise<SaveOutcome> {
  requirePermission(scope, "jot.record");
  const { trx, schoolId, actor } = scope;
  const named = await trx.raw<{ rows: unknown[] }>(
    `select 1 from revisions r join jots j on j.school_id = r.school_id and j.jot_id = r.thing_id
     where r.school_id = :schoolId and r.thing = 'jot' and r.thing_id = :jotId and j.student_id = :studentId
       and r.content -> 'pictures' @> jsonb_build_array(jsonb_build_object('pictureId', :pictureId::text)) limit 1`,
    { ...ids, schoolId },
  );
  if (named.rows.length === 0)
    throw new Invalid({
      picture: "The jot of this picture is not there. Write the jot again and add the picture.",
    });
  const added = await trx("pictures")
    .insert({
      ...{ school_id: schoolId, picture_id: ids.pictureId, student_id: ids.studentId, jot_id: ids.jotId },
      ...{ type, width, height, bytes: content.length, sha256, sent_sha256: sentSha256 },
      ...{ content: inFolder ? null : content, person_id: actor.personId },
    })
    .onConflict(["school_id", "picture_id"])
    .ignore()
    .returning<unknown[]>("picture_id");
  if (added.length === 0) {
    const there = await trx.raw<{ rows: { sent_sha256: string }[] }>(
      "select sent_sha256 from pictures where school_id = ? and picture_id = ? and student_id = ? and jot_id = ?",
      [schoolId, ids.pictureId, ids.studentId, ids.jotId],
    );
    return there.rows[0]?.sent_sha256 === sentSha256 ? "already" : "conflict";
  }
  await recordEvent(scope, {
    ...{ act: "added", thing: "picture", thingId: ids.pictureId, studentId: ids.studentId },
  });
  return "saved";
}

/** A picture without the bytes, where these are in the folder. */
export interface FoundPicture {
  type: string;
  sha256: string;
  content: Buffer | null;
}

/**
 * A picture of a student, for whoever may read jots.
 *
 * @throws NotFound
 */
export async function findPicture(
  { trx, schoolId }: Scope,
  studentId: string,
  pictureId: string,
): Promise<FoundPicture> {
  const { rows } = await trx.raw<{ rows: FoundPicture[] }>(
    "select type, sha256, content from pictures where school_id = ? and student_id = ? and picture_id = ?",
    [schoolId, studentId, pictureId],
  );
  return rows[0] ?? notFound();
}

/** Pictures of a student by their ids; those that are not here are left out. */
export async function listPictureFiles(
  { trx, schoolId }: Scope,
  studentId: string,
  pictureIds: readonly string[],
): Promise<(FoundPicture & { pictureId: string })[]> {
  const { rows } = await trx.raw<{ rows: (FoundPicture & { picture_id: string })[] }>(
    "select picture_id, type, sha256, content from pictures where school_id = ? and student_id = ? and picture_id = any(?)",
    [schoolId, studentId, [...pictureIds]],
  );
  return rows.map(({ picture_id, ...found }) => ({ ...found, pictureId: picture_id }));
}
