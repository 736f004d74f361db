import { createHash } from "node:crypto";
import type { FileFormat } from "#core/report/file-formats.ts";
import type { Scope } from "../access/scope.ts";

/** The formats in which the file of an edition is stored: all but the full record, which is of more than one edition. */
export type EditionFormat = Exclude<FileFormat, "record">;

/** The file of an edition as it was made the first time; null where it was not made yet. */
export async function findEditionFile(
  { trx, schoolId }: Scope,
  editionId: string,
  format: EditionFormat,
): Promise<Buffer | null> {
  const row = await trx("edition_files")
    .where({ school_id: schoolId, edition_id: editionId, format })
    .first("content");
  return row?.content ?? null;
}

/** Stores the file of an edition. Where another was first, that one stays. Answers with the one that is stored. */
export async function storeEditionFile(
  scope: Scope,
  { editionId, studentId, format }: { editionId: string; studentId: string; format: EditionFormat },
  content: Buffer,
): Promise<Buffer> {
  await scope
    .trx("edition_files")
    .insert({
      ...{ school_id: scope.schoolId, edition_id: editionId, student_id: studentId, format, content },
      sha256: createHash("sha256").update(content).digest("hex"),
    })
    .onConflict(["school_id", "edition_id", "format"])
    .ignore();
  return (await findEditionFile(scope, editionId, format)) ?? content;
}
