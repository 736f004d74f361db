import { mkdir, writeFile } from "node:fs/promises";
import { join } from "node:path";
import { data } from "react-router";
import type { Scope } from "#server/access/scope.ts";
import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { pictureFolder, readPictureFile } from "#server/attachments/picture-folder.ts";
import { findDisclosure, type NotedDisclosure } from "#server/db/disclosures.ts";
import { findEditionFile, storeEditionFile } from "#server/db/edition-files.ts";
import { findEdition } from "#server/db/editions.ts";
import { readPaper } from "#server/db/paper.ts";
import { listPictureFiles } from "#server/db/pictures.ts";
import { findStudent } from "#server/db/students.ts";
import { notFound } from "#server/errors.ts";
import { NotPrinted } from "#server/exports/printer.ts";
import { makeFile } from "#app/files/make-file.ts";
import type { Route } from "./+types/file";

/** So many pictures are read from the database at a time. */
const atOnce = 10;

/** What the file is made of: the report as it was looked through, or the edition. */
async function reportOf(scope: Scope, { studentId, edition, document }: NotedDisclosure) {
  const frozen = edition && (await findEdition(scope, studentId, edition.editionId)).document;
  return frozen ?? document;
}

/**
 * The file of a disclosure, made when it is fetched. What an edition's file was the first time, it is every time. Only who made the
 * disclosure fetches it, within a day.
 */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const { studentId } = params;
  const inScope = <T>(work: (scope: Scope) => Promise<T>) =>
    authorize(request, context, "file.make", studentId, work);
  const { disclosure, document, stored, ...asked } = await authorize(
    request,
    context,
    "file.make",
    studentId,
    async (scope) => {
      const disclosureId = isId(params.disclosureId) ? params.disclosureId : notFound();
      const found = await findDisclosure(scope, studentId, disclosureId);
      if (found.personId !== scope.actor.personId) notFound();
      const { edition, format } = found;
      return {
        disclosure: found,
        document: (await reportOf(scope, found)) ?? notFound(),
        paper: await readPaper(scope),
        schoolId: scope.schoolId,
        initials: (await findStudent(scope, studentId)).initials,
        stored:
          edition && format !== "record" ? await findEditionFile(scope, edition.editionId, format) : null,
      };
    },
  );
  const { edition, format } = disclosure;
  async function writePictures(ids: readonly string[], folder: string) {
    await mkdir(folder, { recursive: true });
    for (let from = 0; from < ids.length; from += atOnce)
      for (const { pictureId, content, sha256 } of await inScope((scope) =>
        listPictureFiles(scope, studentId, ids.slice(from, from + atOnce)),
      ))
        await writeFile(
          join(folder, pictureId),
          content ?? (await readPictureFile(pictureFolder() ?? "", asked.schoolId, sha256)),
          { mode: 0o600 },
        );
  }
  try {
    const made = await makeFile(
      { studentId, document, edition: edition?.number ?? null, initials: asked.initials },
      format,
      {
        ...{ printer: context.printer, assets: context.assets, paper: asked.paper, writePictures },
        stored,
      },
    );
    const content =
      edition && format !== "record" && stored === null
        ? await inScope((scope) =>
            storeEditionFile(scope, { editionId: edition.editionId, studentId, format }, made.content),
          )
        : made.content;
    return new Response(new Uint8Array(content), {
      headers: {
        "Content-Type": made.type,
        "Content-Length": String(content.length),
        "Content-Disposition": `attachment; filename*=UTF-8''${encodeURIComponent(made.name)}`,
        "Cache-Control": "no-store",
      },
    });
  } catch (error) {
    // The page says what to do.
    if (error instanceof NotPrinted) throw data({ kind: "not printed", why: error.why }, { status: 503 });
    throw error;
  }
}
