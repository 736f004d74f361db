import { redirect } from "react-router";
import { enter } from "#server/access/enter.ts";
import type { Route } from "./+types/start";

export function loader({ request, context }: Route.LoaderArgs) {
  return enter(request, context, "school.read", null, () => Promise.resolve(redirect("/school/calendar")));
}
