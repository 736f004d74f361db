import { requirePerson } from "#server/access/enter.ts";
import { notFound } from "#server/access/visit.ts";
import { guarded } from "#server/failure.ts";
import type { Route } from "./+types/not-found";

/** Any other address. Signed out, even what does not exist asks for a sign-in first. */
export function loader({ request, context }: Route.LoaderArgs) {
  return guarded(async () => {
    await requirePerson(request, context);
    notFound();
  });
}

export default function NotFound() {
  return null;
}
