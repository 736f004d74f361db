import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { findPicture } from "#server/db/pictures.ts";
import { notFound } from "#server/errors.ts";
import { pictureAnswer } from "./picture-answer.server.ts";
import type { Route } from "./+types/picture";

/** A picture of a jot, for those who may read the student's jots. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const found = await authorize(request, context, "jot.read", params.studentId, async (scope) => ({
    schoolId: scope.schoolId,
    ...(await findPicture(scope, params.studentId, isId(params.pictureId) ? params.pictureId : notFound())),
  }));
  return pictureAnswer(found);
}
