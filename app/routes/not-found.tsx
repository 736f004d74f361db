import { guarded } from "#server/access/answer.ts";
import { requirePerson } from "#server/access/authorize.ts";
import { notFound } from "#server/errors.ts";
import type { Route } from "./+types/not-found";

/** Any other address. Signed out, even what does not exist asks for a sign-in first. */
export function loader({ request, context }: Route.LoaderArgs) {
  return guarded(async () => {
    await requirePerson(request, context);
    notFound();
  }, context.pulse);
}

export default function NotFound() {
  return null;
}
