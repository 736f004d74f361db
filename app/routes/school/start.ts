import { redirect } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import type { Route } from "./+types/start";

export function loader({ request, context }: Route.LoaderArgs) {
  return authorize(request, context, "school.read", null, () =>
    Promise.resolve(redirect("/school/calendar")),
  );
}
