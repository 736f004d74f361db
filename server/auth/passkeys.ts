import {
  type AuthenticationResponseJSON,
  generateAuthenticationOptions,
  generateRegistrationOptions,
  type PublicKeyCredentialCreationOptionsJSON,
  type PublicKeyCredentialRequestOptionsJSON,
  type RegistrationResponseJSON,
  verifyAuthenticationResponse,
  verifyRegistrationResponse,
} from "@simplewebauthn/server";
import type { Database } from "../db/connection.ts";
import {
  deletePasskey,
  findPasskey,
  insertPasskey,
  listPasskeys,
  notePasskeyUse,
  type OwnPasskey,
  setChallenge,
  takeChallenge,
} from "../db/passkeys.ts";
import { findOwnAccount, noteFailedSignIn } from "../db/sessions.ts";
import { noteSecurity } from "../failure.ts";
import { passwordMatches } from "./password.ts";
import { isSlowDown, limitedPassword, type SlowDown } from "./rate-limit.ts";
import { type Browser, hashToken, newToken, openSession, type SignIn } from "./session.ts";

/** What a browser is asked, and what it brings along with its answer. */
export interface Asked<Options> {
  options: Options;
  challengeToken: string;
}

/** A passkey belongs to the name under which the site is asked. */
const rpOf = (origin: string) => ({ rpID: new URL(origin).hostname, rpName: "Gentle Margin" });

async function asked<Options extends { challenge: string }>(
  database: Database,
  options: Options,
): Promise<Asked<Options>> {
  const challengeToken = newToken();
  await setChallenge(database, hashToken(challengeToken), options.challenge);
  return { options, challengeToken };
}

/** The passkeys of the account behind a session, or behind a sign-in that is half done. */
export const ownPasskeys = (database: Database, token: string | null): Promise<OwnPasskey[]> =>
  token === null ? Promise.resolve([]) : listPasskeys(database, hashToken(token));

/** Asks a browser for a new passkey of the account behind a session, whose password is shown once more: a passkey alone signs in. */
export async function askForPasskey(
  database: Database,
  token: string,
  { origin, password }: { origin: string; password: string },
): Promise<Asked<PublicKeyCredentialCreationOptionsJSON> | "wrong" | SlowDown> {
  const account = await findOwnAccount(database, hashToken(token));
  if (!account) return "wrong";
  const known = await limitedPassword(database, account.account_id, async () =>
    (await passwordMatches(password, account.password_hash)) ? account : null,
  );
  if (known === "wrong" || isSlowDown(known)) return known;
  const there = await listPasskeys(database, hashToken(token));
  return asked(
    database,
    await generateRegistrationOptions({
      ...rpOf(origin),
      ...{ userName: account.email, userID: new TextEncoder().encode(account.account_id) },
      attestationType: "none",
      excludeCredentials: there.map(({ credentialId }) => ({ id: credentialId })),
      authenticatorSelection: { residentKey: "required", userVerification: "required" },
    }),
  );
}

/** Adds the passkey that a browser made. */
export async function addPasskey(
  database: Database,
  token: string,
  {
    challengeToken,
    response,
    name,
    origin,
  }: { challengeToken: string; response: RegistrationResponseJSON; name: string; origin: string },
): Promise<boolean> {
  const expectedChallenge = await takeChallenge(database, hashToken(challengeToken));
  if (expectedChallenge === null) return false;
  const verified = await verifyRegistrationResponse({
    ...{ response, expectedChallenge, expectedOrigin: origin, expectedRPID: rpOf(origin).rpID },
  }).catch(() => null);
  if (!verified?.verified) return false;
  const { id, publicKey, counter, transports = [] } = verified.registrationInfo.credential;
  return insertPasskey(database, hashToken(token), {
    ...{ credentialId: id, publicKey: Buffer.from(publicKey), counter, transports, name },
  });
}

/** Removes a passkey of the account behind a session. */
export const removePasskey = (database: Database, token: string, credentialId: string): Promise<boolean> =>
  deletePasskey(database, hashToken(token), credentialId);

/** Asks a browser for any passkey of this site; after a password, for one of that account. */
export async function askToSignIn(
  database: Database,
  halfToken: string | null,
  origin: string,
): Promise<Asked<PublicKeyCredentialRequestOptionsJSON>> {
  const mine = await ownPasskeys(database, halfToken);
  return asked(
    database,
    await generateAuthenticationOptions({
      ...{ rpID: rpOf(origin).rpID, userVerification: "required" },
      allowCredentials: mine.map(({ credentialId }) => ({ id: credentialId })),
    }),
  );
}

/** Signs in with a passkey: it is password and second step in one, since its device has asked for a finger, a face or a code. */
export async function signInWithPasskey(
  database: Database,
  {
    challengeToken,
    response,
    origin,
    browser,
  }: { challengeToken: string; response: AuthenticationResponseJSON; origin: string; browser: Browser },
): Promise<SignIn> {
  const expectedChallenge = await takeChallenge(database, hashToken(challengeToken));
  const known = expectedChallenge === null ? null : await findPasskey(database, response.id);
  const verified =
    known && expectedChallenge !== null
      ? await verifyAuthenticationResponse({
          ...{ response, expectedChallenge, expectedOrigin: origin, expectedRPID: rpOf(origin).rpID },
          credential: {
            ...{ id: response.id, counter: known.counter },
            publicKey: new Uint8Array(known.publicKey),
          },
        }).catch(() => null)
      : null;
  const isGood =
    verified?.verified === true &&
    (await notePasskeyUse(database, response.id, verified.authenticationInfo.newCounter));
  if (!known || !isGood) {
    noteSecurity("sign-in failed", { why: "passkey" });
    if (known) noteFailedSignIn(database, known.accountId, "passkey");
    return { ok: false, verdict: "wrong" };
  }
  return openSession(database, known.accountId, browser);
}
