import { randomInt } from "node:crypto";
import { Secret, TOTP } from "otpauth";
import type { Database } from "../db/connection.ts";
import {
  beginSecondStep,
  closeHalfSignIn,
  confirmSecondStep,
  endSecondStep,
  findSecondStep,
  noteFailedSignIn,
  type SecondStep,
  spendCounter,
  spendRecoveryCode,
} from "../db/sessions.ts";
import { noteSecurity } from "../failure.ts";
import { isSlowDown, limitedStep, type SlowDown, type Tried } from "./rate-limit.ts";
import { type Browser, hashToken, openSession, type SignIn } from "./session.ts";

/** Seconds for which a code is shown. One before and one after are taken too: clocks differ, and typing takes time. */
const period = 30;

const generator = (secret: string, label = "") =>
  new TOTP({
    ...{ issuer: "Gentle Margin", label, secret: Secret.fromBase32(secret) },
    // RFC 6238: SHA-1 and six digits, which every authenticator knows.
    ...{ algorithm: "SHA1", digits: 6, period },
  });

/**
 * The half minute whose code this is, as RFC 6238 counts them; null where it is the code of none of the three around a moment.
 *
 * @param secret in base 32
 * @param at milliseconds since 1970
 */
export function counterOf(secret: string, code: string, at: number): number | null {
  const delta = generator(secret).validate({ token: code, timestamp: at, window: 1 });
  return delta === null ? null : Math.floor(at / 1000 / period) + delta;
}

/** The code of a secret at a moment, as an authenticator shows it. */
export const codeAt = (secret: string, at: number): string => generator(secret).generate({ timestamp: at });

/** What is given to an authenticator: as an address, which it reads as a square, and to be typed. */
export interface ToSetUp {
  uri: string;
  secret: string;
}

const step = (database: Database, token: string) => findSecondStep(database, hashToken(token));

/** How the account behind a session stands with its second step; null where the session is over. */
export const ownSecondStep = (database: Database, token: string | null): Promise<SecondStep | null> =>
  token === null ? Promise.resolve(null) : step(database, token);

/** Begins a second step for the account of a session, or goes on with the one that was begun and is not confirmed. */
export async function setUpSecondStep(database: Database, token: string): Promise<ToSetUp | null> {
  const begun = await step(database, token);
  if (!begun || begun.isConfirmed) return null;
  const secret = begun.secret ?? new Secret({ size: 20 }).base32;
  if (begun.secret === null) await beginSecondStep(database, hashToken(token), secret);
  return { secret, uri: generator(secret, begun.email).toString() };
}

/** Signs that are not taken for one another. */
const signs = "23456789abcdefghjkmnpqrstuvwxyz";
const newCode = () => {
  const some = () => Array.from({ length: 5 }, () => signs[randomInt(signs.length)]).join("");
  return `${some()}-${some()}`;
};
const plainCode = (typed: string) => typed.toLowerCase().replaceAll(/[\s-]/g, "");
const hashCode = (code: string) => hashToken(plainCode(code));

/**
 * Confirms a second step, or makes new recovery codes for one, with the code that an authenticator shows now.
 *
 * @returns ten recovery codes, each good once; they are known here and now only
 */
export async function confirmWith(
  database: Database,
  token: string,
  typed: string,
  now = Date.now(),
): Promise<Tried<string[]>> {
  const begun = await step(database, token);
  const { secret } = begun ?? {};
  if (!begun || !secret) return "wrong";
  return limitedStep(database, begun.accountId, async () => {
    const counter = counterOf(secret, plainCode(typed), now);
    if (counter === null) return null;
    const codes = Array.from({ length: 10 }, newCode);
    return (await confirmSecondStep(database, hashToken(token), counter, codes.map(hashCode))) ? codes : null;
  });
}

/** Shows that a code of the authenticator, or a recovery code, is known, and uses it up. */
async function showStep(
  database: Database,
  token: string,
  typed: string,
  now: number,
): Promise<Tried<SecondStep>> {
  const set = await step(database, token);
  const { secret } = set ?? {};
  if (!set?.isConfirmed || !secret) return "wrong";
  const done = await limitedStep(database, set.accountId, async () => {
    const code = plainCode(typed);
    const counter = /^\d{6}$/.test(code) ? counterOf(secret, code, now) : null;
    const isGood =
      counter === null
        ? await spendRecoveryCode(database, hashToken(token), hashCode(code))
        : await spendCounter(database, hashToken(token), counter);
    if (!isGood) noteFailedSignIn(database, set.accountId, "second step");
    return isGood ? set : null;
  });
  if (done === "wrong" || isSlowDown(done))
    noteSecurity("second step failed", { why: done === "wrong" ? done : "slow-down" });
  return done;
}

/** Ends a half sign-in with its second step: the person is signed in. */
export async function signInWithStep(
  database: Database,
  halfToken: string,
  { typed, browser, now = Date.now() }: { typed: string; browser: Browser; now?: number },
): Promise<SignIn | { ok: false; verdict: "wrong" | SlowDown }> {
  const shown = await showStep(database, halfToken, typed, now);
  if (shown === "wrong" || isSlowDown(shown)) return { ok: false, verdict: shown };
  await closeHalfSignIn(database, hashToken(halfToken));
  return openSession(database, shown.accountId, browser);
}

/** Ends the second step of the account behind a session, with a code. */
export async function giveUpStep(
  database: Database,
  token: string,
  typed: string,
  now = Date.now(),
): Promise<Tried<true>> {
  const shown = await showStep(database, token, typed, now);
  if (shown === "wrong" || isSlowDown(shown)) return shown;
  await endSecondStep(database, hashToken(token));
  return true;
}

/** A code to be printed where the server was started: "k7q4w-m2xpe". */
export const newSetUpCode = newCode;
/** The hash of such a code, however it was typed. */
export const hashSetUpCode = hashCode;
