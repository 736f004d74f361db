import { createHash } from "node:crypto";
import { pinTries } from "#core/sync/device-lock.ts";
import { RateLimiterPostgres, RateLimiterRes } from "rate-limiter-flexible";
import { noteSecurity } from "../failure.ts";
import { type Database, runUnnamed } from "../db/connection.ts";

const quarterOfAnHour = 900;
const day = 86_400;

/** What may be tried how often within a span of seconds. Keys are hashed: no e-mail is stored. */
interface Rule {
  prefix: string;
  points: number;
  key: string;
  span?: number;
}

const limiterOf = (database: Database, { prefix, points, span = quarterOfAnHour }: Rule) =>
  new RateLimiterPostgres({
    // The limiter names its statements.
    storeClient: { query: runUnnamed(database) },
    storeType: "client",
    tableName: "rate_limits",
    tableCreated: true,
    keyPrefix: prefix,
    points,
    duration: span,
    clearExpiredByTimeout: false,
  });
const hashed = (key: string) => createHash("sha256").update(key).digest("base64url");

/** A try that is refused before anything is compared, and in how many seconds the next one is looked at. */
export interface SlowDown {
  slowDown: number;
}

/** How a try ended: what it found, `"wrong"`, or not looked at. */
export type Tried<T> = T | "wrong" | SlowDown;

/** Was a try refused before anything was compared? */
export const isSlowDown = (tried: unknown): tried is SlowDown =>
  typeof tried === "object" && tried !== null && "slowDown" in tried;

/** Counts a try by a rule, in PostgreSQL, so that every web process counts together. Answers how many there are, or how long to wait. */
async function countTry(database: Database, rule: Rule): Promise<number | SlowDown> {
  try {
    return (await limiterOf(database, rule).consume(hashed(rule.key))).consumedPoints;
  } catch (refused) {
    if (!(refused instanceof RateLimiterRes)) throw refused;
    // Tries beyond the limit are not told apart: one line each time the limit is reached is enough.
    if (refused.consumedPoints === rule.points + 1) noteSecurity("limit reached", { what: rule.prefix });
    return { slowDown: Math.max(1, Math.ceil(refused.msBeforeNext / 1000)) };
  }
}

const giveBack = (database: Database, rule: Rule) => limiterOf(database, rule).reward(hashed(rule.key), 1);

/**
 * Runs a try of something that can be guessed: only what fails counts. It is counted before and given back where it succeeds, so that many
 * tries at once are no way around the limit.
 *
 * @param attempt answers null where it failed
 */
async function limited<T>(
  database: Database,
  rule: Rule,
  attempt: () => Promise<T | null>,
): Promise<Tried<T>> {
  const counted = await countTry(database, rule);
  if (isSlowDown(counted)) return counted;
  const done = await attempt();
  if (done === null) return "wrong";
  await giveBack(database, rule);
  return done;
}

/** How many may fail for one e-mail on devices we do not know before the delay begins. */
const free = 5;

/**
 * Seconds until the next try for an e-mail, after so many failed on devices we do not know: 2, 4, 8 and so on, up to a quarter of an hour.
 *
 * @param failed how many failed within a day
 */
export const delayAfter = (failed: number): number =>
  failed <= free ? 0 : Math.min(quarterOfAnHour, 2 ** Math.min(failed - free, 10));

/** How many may fail from one network address in a quarter of an hour: a whole school may have one. */
const perAddress = 300;

/**
 * A try to sign in. Only what fails counts.
 *
 * - On a device where this account has signed in before, ten may fail in a quarter of an hour. Nothing that happens elsewhere counts there,
 *   so that nobody is locked out by another who guesses.
 * - On any other device the delay after each failure grows, for the e-mail as a whole: about a hundred tries in a day.
 * - From one address three hundred may fail in a quarter of an hour.
 *
 * @param knownDevice what tells the device from others, where the account of this e-mail has signed in on it
 */
export async function limitedSignIn<T>(
  database: Database,
  { email, address, knownDevice }: { email: string; address: string; knownDevice: string | null },
  attempt: () => Promise<T | null>,
): Promise<Tried<T>> {
  const known = email.trim().toLowerCase();
  if (knownDevice !== null)
    return limited(
      database,
      { prefix: "sign-in-device", points: 10, key: `${known} ${knownDevice}` },
      attempt,
    );
  const fromAddress: Rule = { prefix: "sign-in-address", points: perAddress, key: address };
  const ofAddress = await limiterOf(database, fromAddress).get(hashed(address));
  if (ofAddress && ofAddress.consumedPoints >= perAddress)
    return { slowDown: Math.max(1, Math.ceil(ofAddress.msBeforeNext / 1000)) };
  const ofEmail: Rule = { prefix: "sign-in-email", points: 1_000_000, key: known, span: day };
  const failed = await countTry(database, ofEmail);
  if (isSlowDown(failed)) return failed;
  const span = delayAfter(failed);
  if (span > 0) {
    // Whoever comes first holds the wait of this number; the others learn how long it lasts and are not counted.
    const wait = await countTry(database, { prefix: "sign-in-wait", points: 1, key: known, span });
    if (isSlowDown(wait)) {
      await giveBack(database, ofEmail);
      return wait;
    }
  }
  const done = await attempt();
  if (done === null) {
    await limiterOf(database, fromAddress).penalty(hashed(address), 1);
    return "wrong";
  }
  await giveBack(database, ofEmail);
  return done;
}

/** A try of the current password by a person who is signed in: five may fail in a quarter of an hour. It slows no sign-in down. */
export const limitedPassword = <T>(
  database: Database,
  accountId: string,
  attempt: () => Promise<T | null>,
): Promise<Tried<T>> => limited(database, { prefix: "password", points: 5, key: accountId }, attempt);

/** A try of a person's PIN: five may fail in a quarter of an hour, from all devices together. */
export const limitedPin = <T>(
  database: Database,
  personId: string,
  attempt: () => Promise<T | null>,
): Promise<Tried<T>> => limited(database, { prefix: "pin", points: 5, key: personId }, attempt);

/**
 * A try of a PIN on a locked device whose person is still signed in: five may fail in a session, those that the device refused by itself
 * without a network among them.
 *
 * @param before how many the device refused since it last asked
 * @param attempt answers null where it failed
 * @returns `"over"` where the fifth failed: this session is to end
 */
export async function limitedUnlock<T>(
  database: Database,
  session: string,
  before: number,
  attempt: () => Promise<T | null>,
): Promise<T | "wrong" | "over"> {
  const rule: Rule = { prefix: "unlock", points: pinTries, key: session, span: day };
  if (before > 0) await limiterOf(database, rule).penalty(hashed(session), before);
  const counted = await countTry(database, rule);
  if (isSlowDown(counted)) return "over";
  const done = await attempt();
  if (done === null) return counted >= pinTries ? "over" : "wrong";
  await limiterOf(database, rule).delete(hashed(session));
  return done;
}

/** A try of a second step: five may fail in a quarter of an hour for an account. */
export const limitedStep = <T>(
  database: Database,
  accountId: string,
  attempt: () => Promise<T | null>,
): Promise<Tried<T>> => limited(database, { prefix: "second-step", points: 5, key: accountId }, attempt);

/** A try of the code that opens a guardian's link: five may fail in a quarter of an hour. */
export const limitedFamilyCode = <T>(
  database: Database,
  guardianId: string,
  attempt: () => Promise<T | null>,
): Promise<Tried<T>> => limited(database, { prefix: "family-code", points: 5, key: guardianId }, attempt);

/** A try of the code that is printed where the server was started: ten may fail in a quarter of an hour. */
export const limitedSetUp = <T>(database: Database, attempt: () => Promise<T | null>): Promise<Tried<T>> =>
  limited(database, { prefix: "set-up", points: 10, key: "code" }, attempt);

/** Something that is asked for without a sign-in: ten an address and three for what it names, in a quarter of an hour. False beyond that. */
export async function mayAsk(
  database: Database,
  what: string,
  { address, key }: { address: string; key: string },
): Promise<boolean> {
  const rules = [
    { prefix: `${what}-address`, points: 10, key: address },
    { prefix: what, points: 3, key },
  ];
  for (const rule of rules) if (isSlowDown(await countTry(database, rule))) return false;
  return true;
}
