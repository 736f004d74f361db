import { createHash } from "node:crypto";
import { RateLimiterPostgres, RateLimiterRes } from "rate-limiter-flexible";
import { noteSecurity } from "../failure.ts";
import type { Database } from "../db/connection.ts";

/** A quarter of an hour, in seconds. */
const span = 900;

/** What may be tried how often within a quarter of an hour. Keys are hashed: no e-mail is stored. */
interface Rule {
  prefix: string;
  points: number;
  key: string;
}

const limiterOf = (database: Database, { prefix, points }: Rule) =>
  new RateLimiterPostgres({
    storeClient: database,
    storeType: "knex",
    tableName: "rate_limits",
    tableCreated: true,
    keyPrefix: prefix,
    points,
    duration: span,
    clearExpiredByTimeout: false,
  });
const hashed = (key: string) => createHash("sha256").update(key).digest("base64url");

/** Counts a try of each rule, in PostgreSQL, so that every web process counts together. False where one of them has no more. */
async function countTry(database: Database, rules: readonly Rule[]): Promise<boolean> {
  for (const rule of rules)
    try {
      await limiterOf(database, rule).consume(hashed(rule.key));
    } catch (refused) {
      if (!(refused instanceof RateLimiterRes)) throw refused;
      // Tries beyond the limit are not told apart: one line each time the limit is reached is enough.
      if (refused.consumedPoints === rule.points + 1) noteSecurity("limit reached", { what: rule.prefix });
      return false;
    }
  return true;
}

/**
 * Runs a try of something that can be guessed: only what fails counts. It is counted before and given back where it succeeds, so that many
 * tries at once are no way around the limit.
 *
 * @param attempt answers null where it failed
 */
async function limited<T>(
  database: Database,
  rules: readonly Rule[],
  attempt: () => Promise<T | null>,
): Promise<T | "wrong" | "slow-down"> {
  if (!(await countTry(database, rules))) return "slow-down";
  const done = await attempt();
  if (done === null) return "wrong";
  await Promise.all(rules.map((rule) => limiterOf(database, rule).reward(hashed(rule.key), 1)));
  return done;
}

/**
 * A try to sign in. In a quarter of an hour ten may fail for one e-mail from one address, fifty for an address, thirty for an e-mail from
 * anywhere.
 */
export function limitedSignIn<T>(
  database: Database,
  { email, address }: { email: string; address: string },
  attempt: () => Promise<T | null>,
): Promise<T | "wrong" | "slow-down"> {
  const known = email.trim().toLowerCase();
  const rules = [
    { prefix: "sign-in-both", points: 10, key: `${known} ${address}` },
    { prefix: "sign-in-address", points: 50, key: address },
    { prefix: "sign-in-email", points: 30, key: known },
  ];
  return limited(database, rules, attempt);
}

/** A try of a person's PIN: five may fail in a quarter of an hour, from all devices together. */
export function limitedPin<T>(
  database: Database,
  personId: string,
  attempt: () => Promise<T | null>,
): Promise<T | "wrong" | "slow-down"> {
  return limited(database, [{ prefix: "pin", points: 5, key: personId }], attempt);
}
