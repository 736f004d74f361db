import { redirect } from "react-router";
import { authorizeFamily } from "#server/access/authorize-family.ts";
import { isId } from "#server/access/scope.ts";
import { noteOpened } from "#server/db/message-lists.ts";
import type { Route } from "./+types/family-go";

/** The link of a message to a guardian: notes that they opened it, and leads to the report, or to the family's page. */
export function loader({ request, context, params }: Route.LoaderArgs) {
  const { guardianId, messageId } = params;
  return authorizeFamily(request, context, "report.read", guardianId, async (scope) => {
    const opened = isId(messageId) ? await noteOpened(scope, messageId, { guardianId }) : null;
    const [only] = opened?.kind === "edition" ? (opened.about.things ?? []) : [];
    return redirect(only ? `/family/${guardianId}/editions/${only}` : `/family/${guardianId}`);
  });
}
