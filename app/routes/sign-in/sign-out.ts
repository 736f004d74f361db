import { redirect } from "react-router";
import { guarded } from "#server/access/answer.ts";
import { requirePerson } from "#server/access/authorize.ts";
import { signOutAtProvider } from "#server/auth/provider.ts";
import { readToken, sessionCookie, signOut } from "#server/auth/session.ts";
import type { Route } from "./+types/sign-out";

/** Signing out is a POST. A GET redirects to the caseload. */
export function loader({ request, context }: Route.LoaderArgs) {
  return guarded(async () => {
    await requirePerson(request, context);
    throw redirect("/caseload");
  }, context.pulse);
}

export function action({ request, context }: Route.ActionArgs) {
  return guarded(async () => {
    const token = readToken(request, context.secure);
    // Who signed in by the school's provider is signed out there, too: the next one at this device is somebody else.
    const there = await signOutAtProvider(context.database, token, new URL(request.url).origin);
    if (token !== null) await signOut(context.database, token);
    throw redirect(there ?? "/sign-in", {
      headers: {
        "Set-Cookie": sessionCookie("", context.secure), // Not "storage": what is recorded and not sent yet stays on the device, sealed; the page has thrown its key away.
        "Clear-Site-Data": '"cache"',
      },
    });
  }, context.pulse);
}
