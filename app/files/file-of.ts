import { mkdir, writeFile } from "node:fs/promises";
import { join } from "node:path";
import type { ReportDocument } from "#core/report/document.ts";
import type { FileFormat } from "#core/report/file-formats.ts";
import type { Scope } from "#server/access/scope.ts";
import { pictureFolder, readPictureFile } from "#server/attachments/picture-folder.ts";
import { findEditionFile, storeEditionFile } from "#server/db/edition-files.ts";
import { readPaper } from "#server/db/paper.ts";
import { listPictureFiles } from "#server/db/pictures.ts";
import { findStudent } from "#server/db/students.ts";
import { type FileTools, type MadeFile, makeFile } from "./make-file.ts";

/** So many pictures are read from the database at a time. */
const atOnce = 10;

/** A report that was noted as leaving. */
interface LeavingReport {
  schoolId: string;
  studentId: string;
  document: ReportDocument;
  edition: { editionId: string; number: number } | null;
}

/** Opens a short transaction of who may make files of the student. */
type InScope = <T>(work: (scope: Scope) => Promise<T>) => Promise<T>;

/** Writes pictures of a student into a folder under their ids. */
export const pictureWriter =
  ({ schoolId, studentId }: Pick<LeavingReport, "schoolId" | "studentId">, inScope: InScope) =>
  async (ids: readonly string[], folder: string): Promise<void> => {
    await mkdir(folder, { recursive: true });
    for (let from = 0; from < ids.length; from += atOnce)
      for (const { pictureId, content, sha256 } of await inScope((scope) =>
        listPictureFiles(scope, studentId, ids.slice(from, from + atOnce)),
      ))
        await writeFile(
          join(folder, pictureId),
          content ?? (await readPictureFile(pictureFolder() ?? "", schoolId, sha256)),
          { mode: 0o600 },
        );
  };

/**
 * The file of a report that leaves. What an edition's file was the first time, it is every time.
 *
 * @throws NotPrinted where a PDF is asked for and cannot be made
 */
export async function fileOf(
  inScope: InScope,
  { schoolId, studentId, document, edition }: LeavingReport,
  format: FileFormat,
  tools: Pick<FileTools, "printer" | "assets">,
): Promise<MadeFile> {
  const kept = edition && format !== "record" ? { editionId: edition.editionId, studentId, format } : null;
  const { stored, ...known } = await inScope(async (scope) => ({
    stored: kept && (await findEditionFile(scope, kept.editionId, kept.format)),
    paper: await readPaper(scope),
    initials: (await findStudent(scope, studentId)).initials,
  }));
  const writePictures = pictureWriter({ schoolId, studentId }, inScope);
  const made = await makeFile(
    { studentId, document, edition: edition?.number ?? null, initials: known.initials },
    format,
    { ...tools, paper: known.paper, writePictures, stored },
  );
  if (kept === null || stored !== null) return made;
  return { ...made, content: await inScope((scope) => storeEditionFile(scope, kept, made.content)) };
}
