import * as z from "zod/mini";
import { redirect } from "react-router";
import { enter } from "#server/access/enter.ts";
import { listNear, type NearIncident } from "#server/db/incident-lists.ts";
import type { Route } from "./+types/near";

/** There is nothing to look at here. */
export function loader({ request, context }: Route.LoaderArgs) {
  return enter(request, context, "sitting.open", null, () => Promise.resolve(redirect("/record")));
}

const askedSchema = z.object({ studentId: z.uuid(), incidentId: z.uuid() });

export interface NearAnswer {
  near: NearIncident[];
}

/** Which incidents of the same student other adults wrote down at nearly the same time. */
export async function action({ request, context }: Route.ActionArgs): Promise<NearAnswer> {
  const read = askedSchema.safeParse(await request.json().catch(() => null));
  if (!read.success)
    return enter(request, context, "sitting.open", null, () => Promise.resolve({ near: [] }));
  const { studentId, incidentId } = read.data;
  return enter(request, context, "incident.read", studentId, async (visit) => ({
    near: await listNear(visit, studentId, incidentId),
  }));
}
