import { createHash, randomBytes } from "node:crypto";
import { parse, serialize } from "cookie";
import type { Database } from "../db/connection.ts";
import {
  endOtherSessions,
  endSession,
  findCredentials,
  findOwnAccount,
  findSession,
  insertSession,
  listOwnSessions,
  noteAgent,
  type OwnSession,
  replaceHash,
} from "../db/sessions.ts";
import type { PersonActor } from "../access/actor.ts";
import { agentWords } from "./agent-words.ts";
import { hashPassword, isOldHash, passwordMatches } from "./password.ts";
import { noteSecurity } from "../failure.ts";
import { limitedSignIn } from "./rate-limit.ts";

const cookieName = (secure: boolean) => (secure ? "__Host-gentle-margin" : "gentle-margin");

function hashToken(token: string): Buffer {
  return createHash("sha256").update(token).digest();
}

/** The session's token from the cookie of a request; null where there is none of our shape. */
export function readToken(request: Request, secure: boolean): string | null {
  const token = parse(request.headers.get("Cookie") ?? "")[cookieName(secure)];
  return token && /^[\w-]{43}$/.test(token) ? token : null;
}

/** The `Set-Cookie` header of a session; an empty token deletes it. Behind TLS it has the host prefix and `Secure`. */
export function sessionCookie(token: string, secure: boolean): string {
  return serialize(cookieName(secure), token, {
    path: "/",
    httpOnly: true,
    sameSite: "lax",
    secure,
    ...(token === "" ? { maxAge: 0 } : {}),
  });
}

/**
 * Whose session this is; null where it has ended or never was.
 *
 * @param options `touch: false` does not keep the session alive
 */
export async function personOf(
  database: Database,
  token: string | null,
  { touch = true } = {},
): Promise<PersonActor | null> {
  return token === null ? null : findSession(database, hashToken(token), touch);
}

export type SignIn = { ok: true; token: string } | { ok: false; verdict: "slow-down" | "wrong" };

/**
 * Signs a person in. Unknown e-mail and wrong password take the same path, the same time and give the same answer.
 * A new token is made at each sign-in, and the one that came with the request is ended.
 */
export async function signIn(
  database: Database,
  {
    email,
    password,
    address,
    oldToken,
    agent = null,
  }: {
    email: string;
    password: string;
    address: string;
    oldToken: string | null;
    /** What the browser says of itself. */
    agent?: string | null;
  },
): Promise<SignIn> {
  const found = await limitedSignIn(database, { email, address }, async () => {
    const credentials = await findCredentials(database, email);
    const matches = await passwordMatches(password, credentials?.password_hash ?? null);
    return matches ? credentials : null;
  });
  if (found === "wrong" || found === "slow-down") {
    noteSecurity("sign-in failed", { why: found });
    return { ok: false, verdict: found };
  }
  if (isOldHash(found.password_hash))
    await replaceHash(database, found.account_id, found.password_hash, await hashPassword(password));
  const token = randomBytes(32).toString("base64url");
  await insertSession(database, hashToken(token), found, oldToken === null ? null : hashToken(oldToken));
  await noteAgent(database, hashToken(token), agentWords(agent));
  return { ok: true, token };
}

/** Ends a session; one that has ended stays so. */
export async function signOut(database: Database, token: string): Promise<void> {
  await endSession(database, hashToken(token));
}

/** The e-mail of the account behind a session, and where it is signed in; null where the session is over. */
export async function ownAccount(
  database: Database,
  token: string | null,
): Promise<{ email: string; sessions: OwnSession[] } | null> {
  const account = token === null ? null : await findOwnAccount(database, hashToken(token));
  return account && token !== null
    ? { email: account.email, sessions: await listOwnSessions(database, hashToken(token)) }
    : null;
}

/**
 * Sets another password for the account behind a session, whose present one must be known, and ends its other sessions. A wrong password
 * counts as a failed sign-in.
 */
export async function changePassword(
  database: Database,
  token: string,
  { present, next, address }: { present: string; next: string; address: string },
): Promise<"changed" | "wrong" | "slow-down"> {
  const account = await findOwnAccount(database, hashToken(token));
  if (!account) return "wrong";
  const known = await limitedSignIn(database, { email: account.email, address }, async () =>
    (await passwordMatches(present, account.password_hash)) ? account : null,
  );
  if (known === "wrong" || known === "slow-down") {
    noteSecurity("sign-in failed", { why: known });
    return known;
  }
  const isReplaced = await replaceHash(
    database,
    account.account_id,
    account.password_hash,
    await hashPassword(next),
  );
  if (!isReplaced) return "wrong";
  await endOtherSessions(database, hashToken(token), null);
  return "changed";
}

/** Signs the account behind a session out elsewhere: in one place, or everywhere else. */
export const signOutElsewhere = (
  database: Database,
  token: string,
  sessionId: string | null,
): Promise<number> => endOtherSessions(database, hashToken(token), sessionId);
