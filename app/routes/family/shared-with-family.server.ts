import type { LinkActor } from "#server/access/actor.ts";
import type { Scope } from "#server/access/scope.ts";
import { type Edition, findEdition, listEditions } from "#server/db/editions.ts";
import { listReleased } from "#server/db/releases.ts";

/** The editions that were put on the family's page: made for the family, and shared there by a person. The newest first. */
export async function editionsForFamily(scope: Scope<LinkActor>): Promise<Edition[]> {
  return (await listEditions(scope, scope.actor.studentId)).filter(
    ({ audience, shares }) => audience === "family" && shares.some(({ how }) => how === "family page"),
  );
}

/** Is a picture in something that the family may read: a released jot, or an edition on their page? */
export async function isPictureForFamily(scope: Scope<LinkActor>, pictureId: string): Promise<boolean> {
  const { studentId } = scope.actor;
  const lines = await listReleased(scope, studentId);
  if (lines.some(({ pictures = [] }) => pictures.some((one) => one.pictureId === pictureId))) return true;
  for (const { editionId } of await editionsForFamily(scope))
    if ((await findEdition(scope, studentId, editionId)).content.includes(pictureId)) return true;
  return false;
}
