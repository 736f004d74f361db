import * as z from "zod/mini";
import { redirect } from "react-router";
import { defineAction, type Submitted } from "#app/kit/define-action.server.ts";
import { id } from "#app/ui/form-data.ts";
import { authorize } from "#server/access/authorize.ts";
import { release } from "#server/db/releases.ts";
import type { Route } from "./+types/release";

/** Redirects: this address has no page. */
export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "edition.make", params.studentId, () =>
    Promise.resolve(redirect(`/students/${params.studentId}/editions`)),
  );
}

const pages = { entry: "entries", jot: "jots" };

/** Releases an entry or a jot to the family, or takes that back; then it is where it was. */
export const action = defineAction({
  permission: "edition.make",
  schema: z.object({
    thing: z.enum(["entry", "jot"]),
    thingId: id,
    release: z.enum(["yes", "no"]),
  }),
  async run(scope, { thing, thingId, release: said }, { params }: Submitted<{ studentId: string }>) {
    const { studentId } = params;
    await release(scope, { studentId, thing, thingId }, said === "yes");
    return redirect(`/students/${studentId}/${pages[thing]}/${thingId}`);
  },
});
