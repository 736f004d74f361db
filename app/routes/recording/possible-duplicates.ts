import * as z from "zod/mini";
import { redirect } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { listNear, type NearIncident } from "#server/db/incident-lists.ts";
import type { Route } from "./+types/possible-duplicates";

/** Redirects: this address has no page. */
export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "sitting.open", null, () => Promise.resolve(redirect("/record")));
}

const askedSchema = z.object({ studentId: z.uuid(), incidentId: z.uuid() });

export interface PossibleDuplicates {
  near: NearIncident[];
}

/** Which incidents of the same student other adults wrote down at nearly the same time. */
export async function action({ request, context }: Route.ActionArgs): Promise<PossibleDuplicates> {
  const read = askedSchema.safeParse(await request.json().catch(() => null));
  if (!read.success)
    return authorize(request, context, "sitting.open", null, () => Promise.resolve({ near: [] }));
  const { studentId, incidentId } = read.data;
  return authorize(request, context, "incident.read", studentId, async (scope) => ({
    near: await listNear(scope, studentId, incidentId),
  }));
}
