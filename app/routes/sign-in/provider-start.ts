import { redirect } from "react-router";
import { guarded } from "#server/access/answer.ts";
import { authorize } from "#server/access/authorize.ts";
import { isId } from "#server/access/scope.ts";
import { sentCookie, startAtProvider } from "#server/auth/provider.ts";
import { notFound } from "#server/errors.ts";
import { ownPath } from "./own-path.ts";
import type { Route } from "./+types/provider-start";

/** Sends a browser to the identity provider of a school. With `?test` an administrator of it tries whether that works. */
export function loader({ request, context, params: { schoolId } }: Route.LoaderArgs) {
  return guarded(async () => {
    const { origin, searchParams } = new URL(request.url);
    const isTest = searchParams.has("test");
    if (!isId(schoolId)) notFound();
    if (isTest)
      await authorize(request, context, "staff.edit", null, (scope) =>
        scope.schoolId === schoolId ? Promise.resolve(null) : notFound(),
      );
    const to = searchParams.get("to");
    const started = await startAtProvider(context.database, schoolId, {
      ...{ origin, isTest },
      to: to ? ownPath(to) : null,
    });
    if (typeof started === "string")
      throw redirect(`${isTest ? "/school/provider" : "/sign-in/provider"}?problem=${started}`);
    throw redirect(started.url, { headers: { "Set-Cookie": sentCookie(started.sent, context.secure) } });
  }, context.pulse);
}
