import { data } from "react-router";
import type { Scope } from "#server/access/scope.ts";
import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { findDisclosure, type NotedDisclosure } from "#server/db/disclosures.ts";
import { findEdition } from "#server/db/editions.ts";
import { notFound } from "#server/errors.ts";
import { NotPrinted } from "#server/exports/printer.ts";
import { fileOf } from "#app/files/file-of.ts";
import type { Route } from "./+types/file";

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
  const leaving = await authorize(request, context, "file.make", studentId, async (scope) => {
    const disclosureId = isId(params.disclosureId) ? params.disclosureId : notFound();
    const found = await findDisclosure(scope, studentId, disclosureId);
    if (found.personId !== scope.actor.personId) notFound();
    return {
      ...{ schoolId: scope.schoolId, studentId, edition: found.edition, format: found.format },
      document: (await reportOf(scope, found)) ?? notFound(),
    };
  });
  try {
    const { content, ...made } = await fileOf(inScope, leaving, leaving.format, context);
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
