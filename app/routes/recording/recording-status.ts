import * as z from "zod/mini";
import { data, redirect } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { type ElsewhereSitting, listSittingsElsewhere, noteOpenSittings } from "#server/db/open-sittings.ts";
import { listOpenTallies } from "#server/db/tallies.ts";
import type { OpenTally } from "#core/sync/kept.ts";
import { id } from "#app/ui/form-data.ts";
import type { Route } from "./+types/recording-status";

/** Redirects: this address has no page. */
export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "sitting.open", null, () => Promise.resolve(redirect("/record")));
}

const told = z.object({
  deviceId: id,
  open: z
    .array(
      z.object({
        sittingId: id,
        startedAt: z.iso.datetime(),
        goals: z.array(z.object({ studentId: id, goalId: id })).check(z.maxLength(400)),
      }),
    )
    .check(z.maxLength(40)),
});

/** What goes on now beyond this device. */
export interface RecordingStatus {
  tallies: OpenTally[];
  sittings: ElsewhereSitting[];
}

/** A device tells which sittings it has open, and hears which tallies run and who else is recording. */
export async function action({ request, context }: Route.ActionArgs) {
  const read = told.safeParse(await request.json().catch(() => null));
  return authorize(
    request,
    context,
    "sitting.open",
    null,
    async (scope): Promise<RecordingStatus> => {
      if (!read.success) throw data({ kind: "not-found" }, { status: 404 });
      await noteOpenSittings(scope, read.data.deviceId, read.data.open);
      return { tallies: await listOpenTallies(scope), sittings: await listSittingsElsewhere(scope) };
    },
    { touch: false },
  );
}
