import { parse, serialize } from "cookie";
import * as openid from "openid-client";
import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import type { Database } from "../db/connection.ts";
import {
  findByProvider,
  findProvider,
  noteByProvider,
  noteProviderTested,
  type Provider,
  providerOfSession,
} from "../db/providers.ts";
import { noteSecurity } from "../failure.ts";
import { hashPassword } from "./password.ts";
import { type Browser, hashToken, newToken, openSession, type SignedIn } from "./session.ts";

/** Seconds to wait for a provider. */
const patience = 5;

const isOfThisMachine = (hostname: string) => ["localhost", "127.0.0.1", "[::1]"].includes(hostname);

/** Is this an address at which a provider can be: encrypted, or on this machine? */
export function isIssuer(text: string): boolean {
  const url = URL.canParse(text) ? new URL(text) : null;
  return (
    url !== null && (url.protocol === "https:" || (url.protocol === "http:" && isOfThisMachine(url.hostname)))
  );
}

/** What a provider says of itself: where one signs in, and how its answers are signed. */
function discover({ issuer, clientId, secret }: Provider): Promise<openid.Configuration> {
  const url = new URL(issuer);
  return openid.discovery(url, clientId, secret, undefined, {
    timeout: patience,
    // Only for a provider on this machine, as in the demo.
    execute: url.protocol === "http:" ? [openid.allowInsecureRequests] : [],
  });
}

const sentSchema = z.object({
  schoolId: z.uuid(),
  state: z.string(),
  nonce: z.string(),
  verifier: z.string(),
  to: z.nullable(z.string()),
  isTest: z.boolean(),
});

/** What a browser keeps while it is at the provider. It tells nobody else anything. */
export type Sent = z.infer<typeof sentSchema>;

const cookieName = (secure: boolean) => `${secure ? "__Host-gentle-margin" : "gentle-margin"}-provider`;

/** The `Set-Cookie` header of a sign-in at a provider: ten minutes, or none where there is none. */
export const sentCookie = (sent: Sent | null, secure: boolean): string =>
  serialize(cookieName(secure), sent ? Buffer.from(JSON.stringify(sent)).toString("base64url") : "", {
    ...{ path: "/", httpOnly: true, sameSite: "lax", secure },
    maxAge: sent ? 600 : 0,
  });

/** What a browser brings back from a provider; null where it was sent to none, or too long ago. */
export function readSent(request: Request, secure: boolean): Sent | null {
  const text = parse(request.headers.get("Cookie") ?? "")[cookieName(secure)];
  if (!text) return null;
  try {
    return sentSchema.parse(JSON.parse(Buffer.from(text, "base64url").toString()));
  } catch {
    return null;
  }
}

const backPath = "/sign-in/provider";

/** The address to which a provider sends a browser back: it has to be known there. */
export const backAddress = (origin: string): string => `${origin}${backPath}`;

/** Why a sign-in by a provider did not succeed. */
export type ProviderProblem = "away" | "not-set" | "not-finished" | "not-invited" | "no-email";

/** Where a browser is sent to sign in at the provider of a school, with what it keeps until it is back. */
export async function startAtProvider(
  database: Database,
  schoolId: string,
  { origin, to, isTest }: { origin: string; to: string | null; isTest: boolean },
): Promise<{ url: string; sent: Sent } | ProviderProblem> {
  const provider = await findProvider(database, schoolId);
  if (!provider || !(provider.isOn || isTest)) return "not-set";
  try {
    const configuration = await discover(provider);
    const verifier = openid.randomPKCECodeVerifier();
    const sent: Sent = {
      ...{ schoolId, verifier, to, isTest },
      ...{ state: openid.randomState(), nonce: openid.randomNonce() },
    };
    const url = openid.buildAuthorizationUrl(configuration, {
      ...{ redirect_uri: backAddress(origin), scope: "openid email", state: sent.state, nonce: sent.nonce },
      code_challenge: await openid.calculatePKCECodeChallenge(verifier),
      code_challenge_method: "S256",
      ...(isTest ? { prompt: "login" } : {}),
    });
    return { url: url.href, sent };
  } catch (error) {
    noteSecurity("provider away", { why: error instanceof Error ? error.name : "unknown" });
    return "away";
  }
}

/** Whom a provider named to a browser that came back. */
async function namedBy(provider: Provider, sent: Sent, back: URL) {
  const configuration = await discover(provider);
  const tokens = await openid.authorizationCodeGrant(configuration, back, {
    ...{ pkceCodeVerifier: sent.verifier, expectedState: sent.state, expectedNonce: sent.nonce },
    idTokenExpected: true,
  });
  const claims = tokens.claims();
  if (!claims) throw new Error("no id token");
  const asked =
    typeof claims["email"] === "string"
      ? claims
      : await openid.fetchUserInfo(configuration, tokens.access_token, claims.sub);
  const email = asked["email"];
  return {
    issuer: claims.iss,
    subject: claims.sub,
    // An address that the provider itself has not made sure of is nobody's.
    email: typeof email === "string" && asked["email_verified"] !== false ? email : null,
  };
}

/**
 * Ends a sign-in at a provider: into a session of that one school, for who works there and has an account, or is invited.
 *
 * @param back the address with which the browser came back
 */
export async function endAtProvider(
  database: Database,
  sent: Sent,
  back: URL,
  browser: Browser,
): Promise<(SignedIn & { joined: boolean; personId: string }) | { ok: false; problem: ProviderProblem }> {
  const failed = (problem: ProviderProblem) => {
    noteSecurity("sign-in failed", { why: `provider: ${problem}` });
    return { ok: false, problem } as const;
  };
  const provider = await findProvider(database, sent.schoolId);
  if (!provider?.isOn) return failed("not-set");
  const named = await namedBy(provider, sent, back).catch(() => null);
  if (!named) return failed("not-finished");
  // A password that nobody knows: who wants one asks for a link.
  const fresh = { accountId: newId(), hash: await hashPassword(newToken()) };
  const found = await findByProvider(database, sent.schoolId, named, fresh);
  if (!found) return failed(named.email === null ? "no-email" : "not-invited");
  const opened = await openSession(database, found.accountId, browser, sent.schoolId);
  if (!opened.ok) return failed("not-invited");
  await noteByProvider(database, hashToken(opened.token));
  return { ...opened, schools: 1, joined: found.joined, personId: found.personId };
}

/** Ends a trial of a provider: nobody is signed in, and it is noted that it works. The e-mail that it named; a problem where it does not. */
export async function endTrial(
  database: Database,
  sent: Sent,
  back: URL,
): Promise<{ email: string } | { problem: ProviderProblem }> {
  const provider = await findProvider(database, sent.schoolId);
  if (!provider) return { problem: "not-set" };
  const named = await namedBy(provider, sent, back).catch(() => null);
  if (!named) return { problem: "not-finished" };
  if (named.email === null) return { problem: "no-email" };
  await noteProviderTested(database, sent.schoolId);
  return { email: named.email };
}

/** Where to end the session at the provider, too, for a session that it opened; null where there is nothing to end, or it does not answer. */
export async function signOutAtProvider(
  database: Database,
  token: string | null,
  origin: string,
): Promise<string | null> {
  const schoolId = token === null ? null : await providerOfSession(database, hashToken(token));
  const provider = schoolId === null ? null : await findProvider(database, schoolId);
  if (!provider) return null;
  try {
    const configuration = await discover(provider);
    if (configuration.serverMetadata().end_session_endpoint === undefined) return null;
    return openid.buildEndSessionUrl(configuration, { post_logout_redirect_uri: `${origin}/sign-in` }).href;
  } catch {
    return null;
  }
}
