import { authorizeFamily } from "#server/access/authorize-family.ts";
import { isId } from "#server/access/scope.ts";
import { findPicture } from "#server/db/pictures.ts";
import { notFound } from "#server/errors.ts";
import { pictureAnswer } from "../jots/picture-answer.server.ts";
import { isPictureForFamily } from "./shared-with-family.server.ts";
import type { Route } from "./+types/family-picture";

/** A picture that stands in something the family may read. */
export async function loader({ request, context, params }: Route.LoaderArgs) {
  const found = await authorizeFamily(request, context, "report.read", params.guardianId, async (scope) => {
    const pictureId = isId(params.pictureId) ? params.pictureId : notFound();
    if (!(await isPictureForFamily(scope, pictureId))) notFound();
    return { schoolId: scope.schoolId, ...(await findPicture(scope, scope.actor.studentId, pictureId)) };
  });
  return pictureAnswer(found);
}
