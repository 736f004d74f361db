import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { findEdition } from "#server/db/editions.ts";
import { findStudent } from "#server/db/students.ts";
import { notFound } from "#server/errors.ts";
import type { Route } from "./+types/edition-content";

/** The canonical content of an edition as a file: its SHA-256 is the one that its page shows. */
export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "edition.read", params.studentId, async (scope) => {
    const editionId = isId(params.editionId) ? params.editionId : notFound();
    const {
      content,
      edition: { number },
    } = await findEdition(scope, params.studentId, editionId);
    const { initials } = await findStudent(scope, params.studentId);
    const name = initials.replace(/[^\p{L}\p{N}]/gu, "");
    return new Response(content, {
      headers: {
        "Content-Type": "application/json; charset=utf-8",
        "Content-Disposition": `attachment; filename*=UTF-8''${encodeURIComponent(name)}-edition-${number}.json`,
        "Cache-Control": "no-store",
      },
    });
  });
}
