import type { AuthenticationResponseJSON, RegistrationResponseJSON } from "@simplewebauthn/server";
import * as z from "zod/mini";
import { data, redirect } from "react-router";
import { addPasskey, askForPasskey, askToSignIn, signInWithPasskey } from "#server/auth/passkeys.ts";
import { isSlowDown } from "#server/auth/rate-limit.ts";
import {
  browserOf,
  familyCookie,
  halfCookie,
  readHalf,
  readToken,
  signedInHeaders,
} from "#server/auth/session.ts";
import { guarded } from "#server/access/answer.ts";
import { authorize } from "#server/access/authorize.ts";
import { recordEvent } from "#server/db/events.ts";
import { afterSignIn } from "./own-path.ts";
import type { Route } from "./+types/passkeys";

/** This address has no page. */
export function loader() {
  return redirect("/sign-in");
}

const challengeToken = z.string().check(z.regex(/^[\w-]{43}$/));
// What is in an answer is checked by the library, byte by byte; here it is an object with an id of a sensible length.
const answered = z.looseObject({ id: z.string().check(z.maxLength(1400)) });
const body = z.discriminatedUnion("act", [
  z.object({ act: z.literal("ask") }),
  z.object({
    act: z.literal("sign in"),
    challengeToken,
    response: answered,
    to: z.optional(z.nullable(z.string().check(z.maxLength(500)))),
  }),
  z.object({ act: z.literal("ask to add"), password: z.string().check(z.maxLength(200)) }),
  z.object({
    act: z.literal("add"),
    challengeToken,
    response: answered,
    name: z.string().check(z.trim(), z.minLength(1), z.maxLength(80)),
  }),
]);

/** What a page with a passkey asks and sends, as JSON. */
export async function action({ request, context }: Route.ActionArgs) {
  const read = body.safeParse(await request.json().catch(() => null));
  if (!read.success) return data({ why: "This was not understood. Try again." }, { status: 422 });
  const sent = read.data;
  const { database, secure } = context;
  const { origin } = new URL(request.url);
  if (sent.act === "ask" || sent.act === "sign in")
    return guarded(async () => {
      if (sent.act === "ask") return askToSignIn(database, readHalf(request, secure), origin);
      const browser = browserOf(request, context);
      const response = sent.response as unknown as AuthenticationResponseJSON;
      const { challengeToken: token } = sent;
      const done = await signInWithPasskey(database, { challengeToken: token, response, origin, browser });
      if (done.ok) {
        const headers = signedInHeaders(done, secure);
        headers.append("Set-Cookie", halfCookie("", secure));
        return data({ to: afterSignIn(done, sent.to) }, { headers });
      }
      if (done.verdict === "family")
        return data({ to: "/family" }, { headers: { "Set-Cookie": familyCookie(done.familyToken, secure) } });
      const why =
        done.verdict === "no-school"
          ? "This account is in no school today. Ask an administrator of your school."
          : "This passkey is not known here. Sign in with your password.";
      return data({ why }, { status: 401 });
    }, context.pulse);
  const { personId } = await authorize(request, context, "own-settings.keep", null, ({ actor }) =>
    Promise.resolve(actor),
  );
  const token = readToken(request, secure) ?? "";
  if (sent.act === "ask to add") {
    const asked = await askForPasskey(database, token, { origin, password: sent.password });
    if (isSlowDown(asked))
      return data({ why: "Too many tries. Please wait a quarter of an hour." }, { status: 429 });
    if (asked === "wrong") return data({ why: "This is not your current password." }, { status: 422 });
    return asked;
  }
  const isAdded = await addPasskey(database, token, {
    ...{ challengeToken: sent.challengeToken, name: sent.name, origin },
    response: sent.response as unknown as RegistrationResponseJSON,
  });
  if (!isAdded) return data({ why: "The passkey was not added. Try again." }, { status: 422 });
  await authorize(request, context, "own-settings.keep", null, (scope) =>
    recordEvent(scope, { thing: "person", act: "passkey added", thingId: personId, studentId: null }),
  );
  return { to: "/account/second-step" };
}
