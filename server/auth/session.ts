import { createHash, randomBytes } from "node:crypto";
import { parse, serialize } from "cookie";
import type { Database } from "../db/connection.ts";
import {
  type Credentials,
  type DistrictSchool,
  endOtherSessions,
  endSession,
  findCredentials,
  findOwnAccount,
  findSession,
  forgetOtherDevices,
  hasSecondStep,
  insertSession,
  isDistrictSession,
  isKnownDevice,
  knowDevice,
  listDistrictSchools,
  listOwnSessions,
  listSchoolsOf,
  noteAgent,
  noteFailedSignIn,
  openHalfSignIn,
  type OwnSession,
  replaceBySchool,
  replaceHash,
  type SchoolOfAccount,
} from "../db/sessions.ts";
import { isFamilySession, openFamilyAccount } from "../db/family-access.ts";
import type { PersonActor } from "../access/actor.ts";
import { agentWords } from "./agent-words.ts";
import { hashPassword, isOldHash, passwordMatches } from "./password.ts";
import { noteSecurity } from "../failure.ts";
import { isSlowDown, limitedPassword, limitedSignIn, type SlowDown, type Tried } from "./rate-limit.ts";

const cookieName = (secure: boolean) => (secure ? "__Host-gentle-margin" : "gentle-margin");
const deviceCookieName = (secure: boolean) => `${cookieName(secure)}-device`;

/** The hash of a secret: all of it that is stored. */
export function hashToken(token: string): Buffer {
  return createHash("sha256").update(token).digest();
}

const tokenFrom = (request: Request, name: string): string | null => {
  const token = parse(request.headers.get("Cookie") ?? "")[name];
  return token && /^[\w-]{43}$/.test(token) ? token : null;
};

/** The session's token from the cookie of a request; null where there is none of our shape. */
export const readToken = (request: Request, secure: boolean): string | null =>
  tokenFrom(request, cookieName(secure));

/** What the device of a request is known by; null where no account has signed in on it. */
const readDevice = (request: Request, secure: boolean) => tokenFrom(request, deviceCookieName(secure));

const cookie = (name: string, token: string, secure: boolean, maxAge?: number) =>
  serialize(name, token, {
    path: "/",
    httpOnly: true,
    sameSite: "lax",
    secure,
    ...(maxAge === undefined ? {} : { maxAge }),
  });

/** The `Set-Cookie` header of a session; an empty token deletes it. Behind TLS it has the host prefix and `Secure`. */
export function sessionCookie(token: string, secure: boolean): string {
  return cookie(cookieName(secure), token, secure, token === "" ? 0 : undefined);
}

const halfCookieName = (secure: boolean) => `${cookieName(secure)}-half`;

/** What a browser has between its password and its second step. */
export const readHalf = (request: Request, secure: boolean): string | null =>
  tokenFrom(request, halfCookieName(secure));

/** The `Set-Cookie` header of a half sign-in: ten minutes, or none where it is empty. */
export const halfCookie = (token: string, secure: boolean): string =>
  cookie(halfCookieName(secure), token, secure, token === "" ? 0 : 600);

const familyCookieName = (secure: boolean) => `${cookieName(secure)}-family`;

/** The token of a family's session from the cookie of a request. */
export const familyCookieToken = (request: Request, secure: boolean): string | null =>
  tokenFrom(request, familyCookieName(secure));

/** The `Set-Cookie` header of a family's session; an empty token deletes it. */
export const familyCookie = (token: string, secure: boolean): string =>
  cookie(familyCookieName(secure), token, secure, token === "" ? 0 : undefined);

/** The headers of an answer that signs a browser in: its session, and what its device is known by for the next 400 days. */
export function signedInHeaders({ token, deviceToken }: SignedIn, secure: boolean): Headers {
  const headers = new Headers({ "Set-Cookie": sessionCookie(token, secure) });
  headers.append("Set-Cookie", cookie(deviceCookieName(secure), deviceToken, secure, 400 * 86_400));
  return headers;
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

/** What a browser brings along to a sign-in. */
export interface Browser {
  /** Its network address, for rate limits. */
  address: string;
  /** The token of the session it has, which the new one replaces. */
  oldToken: string | null;
  /** What the device is known by, where an account has signed in on it before. */
  deviceToken?: string | null;
  /** What the browser calls itself. */
  agent?: string | null;
}

export interface SignedIn {
  ok: true;
  token: string;
  /** What the device is known by from now on. */
  deviceToken: string;
  /** In how many schools the account is: with several, the person chooses. */
  schools: number;
}

/** The password was right, and the second step is still to come: what the browser keeps until then. */
export interface HalfSignedIn {
  ok: false;
  verdict: "second-step";
  halfToken: string;
}

/** The account is in no school and is family of a student: what the browser keeps for the family's pages. */
export interface FamilySignedIn {
  ok: false;
  verdict: "family";
  familyToken: string;
}

export type SignIn =
  SignedIn | HalfSignedIn | FamilySignedIn | { ok: false; verdict: "wrong" | "no-school" | SlowDown };

/** A secret of 256 bits, as it stands in a cookie or a link. */
export const newToken = (): string => randomBytes(32).toString("base64url");

/** What a browser brings along to a sign-in, from its request. */
export function browserOf(
  request: Request,
  { address, secure }: { address: string; secure: boolean },
): Browser {
  return {
    address,
    oldToken: readToken(request, secure),
    deviceToken: readDevice(request, secure),
    agent: request.headers.get("User-Agent"),
  };
}

/**
 * Lets an account in whose password was just shown to be known: into a session, or to its second step where it has one.
 */
export async function enter(
  database: Database,
  accountId: string,
  browser: Browser,
  schoolId?: string,
): Promise<SignIn> {
  if (!(await hasSecondStep(database, accountId))) return openSession(database, accountId, browser, schoolId);
  const halfToken = newToken();
  await openHalfSignIn(database, hashToken(halfToken), accountId);
  return { ok: false, verdict: "second-step", halfToken };
}

/** Opens a family's session for an account whose password was shown to be known; null where it is tied to no student. */
export async function enterFamily(database: Database, accountId: string): Promise<string | null> {
  const token = newToken();
  return (await openFamilyAccount(database, accountId, hashToken(token))) ? token : null;
}

/** The same for the account behind a session; null where the session is over, or the account tied to no student. */
export async function enterOwnFamily(database: Database, token: string): Promise<string | null> {
  const account = await findOwnAccount(database, hashToken(token));
  return account && enterFamily(database, account.account_id);
}

/** Is the account behind a session tied to a student as family? */
export const isFamily = (database: Database, token: string | null): Promise<boolean> =>
  token === null ? Promise.resolve(false) : isFamilySession(database, hashToken(token));

/** Opens a session of an account that has shown all it is asked for: in a school that is named, or else in the one it used last. */
export async function openSession(
  database: Database,
  accountId: string,
  { oldToken, deviceToken, agent = null }: Browser,
  schoolId?: string,
): Promise<SignIn> {
  const schools = await listSchoolsOf(database, accountId);
  const school = schoolId === undefined ? schools[0] : schools.find((one) => one.schoolId === schoolId);
  if (!school) {
    const familyToken = await enterFamily(database, accountId);
    return familyToken === null
      ? { ok: false, verdict: "no-school" }
      : { ok: false, verdict: "family", familyToken };
  }
  const token = newToken();
  await insertSession(
    database,
    hashToken(token),
    { account_id: accountId, school_id: school.schoolId, person_id: school.personId },
    oldToken === null ? null : hashToken(oldToken),
  );
  await noteAgent(database, hashToken(token), agentWords(agent));
  const device = deviceToken ?? newToken();
  await knowDevice(database, hashToken(token), hashToken(device));
  return { ok: true, token, deviceToken: device, schools: schools.length };
}

/**
 * Signs a person in. Unknown e-mail and wrong password take the same path, the same time and give the same answer.
 * A new token is made at each sign-in, and the one that came with the request is ended.
 */
export async function signIn(
  database: Database,
  { email, password, ...browser }: Browser & { email: string; password: string },
): Promise<SignIn> {
  const found = await knownAccount(database, { email, password, ...browser });
  return typeof found === "string" || isSlowDown(found)
    ? { ok: false, verdict: found }
    : enter(database, found.account_id, browser);
}

/** The account of an e-mail and a password that go together; an old hash is made anew. Counted as a try to sign in. */
export async function knownAccount(
  database: Database,
  { email, password, address, deviceToken }: Browser & { email: string; password: string },
): Promise<Tried<Credentials>> {
  const device = deviceToken ? hashToken(deviceToken) : null;
  const isKnown = device !== null && (await isKnownDevice(database, email, device));
  const knownDevice = isKnown ? device.toString("base64url") : null;
  const found = await limitedSignIn(database, { email, address, knownDevice }, async () => {
    const credentials = await findCredentials(database, email);
    const matches = await passwordMatches(password, credentials?.password_hash ?? null);
    if (!matches && credentials) noteFailedSignIn(database, credentials.account_id, "password");
    return matches ? credentials : null;
  });
  if (found === "wrong" || isSlowDown(found)) {
    noteSecurity("sign-in failed", { why: found === "wrong" ? found : "slow-down" });
    return found;
  }
  if (isOldHash(found.password_hash))
    await replaceHash(database, found.account_id, found.password_hash, await hashPassword(password));
  return found;
}

/** Is there an account with this e-mail? Asked only for who has shown that the address is theirs. */
export const hasAccount = async (database: Database, email: string): Promise<boolean> =>
  (await findCredentials(database, email)) !== null;

/** Turns a session to another school of the same account. Answers with its new token; null where the account is not in that school today. */
export async function switchSchool(
  database: Database,
  token: string,
  schoolId: string,
): Promise<string | null> {
  const next = newToken();
  return (await replaceBySchool(database, hashToken(token), hashToken(next), schoolId)) ? next : null;
}

/** The schools of the account behind a session, the one used last first. */
export async function ownSchools(database: Database, token: string | null): Promise<SchoolOfAccount[]> {
  const account = token === null ? null : await findOwnAccount(database, hashToken(token));
  return account ? listSchoolsOf(database, account.account_id) : [];
}

/** The schools of this installation, for an account that may see them; null for any other. */
export async function districtSchools(
  database: Database,
  token: string | null,
): Promise<DistrictSchool[] | null> {
  return token !== null && (await isDistrictSession(database, hashToken(token)))
    ? listDistrictSchools(database, hashToken(token))
    : null;
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
 * slows the next try down, and no sign-in.
 */
export async function changePassword(
  database: Database,
  token: string,
  { present, next, deviceToken }: { present: string; next: string; deviceToken: string | null },
): Promise<"changed" | "wrong" | SlowDown> {
  const account = await findOwnAccount(database, hashToken(token));
  if (!account) return "wrong";
  const known = await limitedPassword(database, account.account_id, async () =>
    (await passwordMatches(present, account.password_hash)) ? account : null,
  );
  if (known === "wrong" || isSlowDown(known)) {
    noteSecurity("password not changed", { why: known === "wrong" ? known : "slow-down" });
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
  await forgetOtherDevices(database, hashToken(token), deviceToken === null ? null : hashToken(deviceToken));
  return "changed";
}

/** Signs the account behind a session out elsewhere: in one place, or everywhere else. */
export const signOutElsewhere = (
  database: Database,
  token: string,
  sessionId: string | null,
): Promise<number> => endOtherSessions(database, hashToken(token), sessionId);
