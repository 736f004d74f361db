import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { pictureFolder, readPictureFile } from "#server/attachments/picture-folder.ts";
import { findPicture } from "#server/db/pictures.ts";
import { notFound } from "#server/errors.ts";
import type { Route } from "./+types/picture";

/** A picture of a jot, for those who may read the student's jots. No browser keeps it: a shared device forgets it with its page. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const { schoolId, type, sha256, content } = await authorize(
    request,
    context,
    "jot.read",
    params.studentId,
    async (scope) => ({
      schoolId: scope.schoolId,
      ...(await findPicture(scope, params.studentId, isId(params.pictureId) ? params.pictureId : notFound())),
    }),
  );
  const bytes = content ?? (await readPictureFile(pictureFolder() ?? "", schoolId, sha256));
  return new Response(new Uint8Array(bytes), {
    headers: {
      "Content-Type": type,
      "Content-Length": String(bytes.length),
      "Content-Disposition": "inline",
      "Cache-Control": "no-store",
    },
  });
}
