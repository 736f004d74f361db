import { redirect } from "react-router";
import { guarded } from "#server/access/answer.ts";
import { requirePerson } from "#server/access/authorize.ts";
import { anySchool } from "#server/db/sessions.ts";
import type { Route } from "./+types/start";

export function loader({ request, context }: Route.LoaderArgs) {
  return guarded(async () => {
    if (!(await anySchool(context.database))) throw redirect("/first-run");
    await requirePerson(request, context);
    throw redirect("/caseload");
  }, context.pulse);
}

/** Never drawn: the loader leads on. With a page of its own the address can say what is wrong, as every page does. */
export default function Start() {
  return null;
}
