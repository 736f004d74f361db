import { createHash } from "node:crypto";
import { RateLimiterPostgres, RateLimiterRes } from "rate-limiter-flexible";
import type { Database } from "../db/connection.ts";

export type Verdict = "allowed" | "slow-down";

/**
 * Counts a try; kept in PostgreSQL, so that every web process counts together. Keys are hashed: no e-mail is stored.
 *
 * @param prefix what is tried
 * @param points how many tries a quarter of an hour has
 */
async function tryAllowed(database: Database, prefix: string, points: number, key: string): Promise<Verdict> {
  const limiter = new RateLimiterPostgres({
    storeClient: database,
    storeType: "knex",
    tableName: "rate_limits",
    tableCreated: true,
    keyPrefix: prefix,
    points,
    duration: 900,
    clearExpiredByTimeout: false,
  });
  try {
    await limiter.consume(createHash("sha256").update(key).digest("base64url"));
    return "allowed";
  } catch (refused) {
    if (refused instanceof RateLimiterRes) return "slow-down";
    throw refused;
  }
}

/** Ten tries in a quarter of an hour for one e-mail from one address, fifty for an address, thirty for an e-mail from anywhere. */
const rules = [
  { prefix: "both", points: 10, key: (email: string, address: string) => `${email} ${address}` },
  { prefix: "address", points: 50, key: (_email: string, address: string) => address },
  { prefix: "email", points: 30, key: (email: string) => email },
];

/** May this address try to sign in for this e-mail now? Counts the try. "slow-down" after too many. */
export async function signInAllowed(database: Database, email: string, address: string): Promise<Verdict> {
  for (const { prefix, points, key } of rules) {
    const asked = key(email.trim().toLowerCase(), address);
    if ((await tryAllowed(database, `sign-in-${prefix}`, points, asked)) === "slow-down") return "slow-down";
  }
  return "allowed";
}

/** Allows five tries of a person's PIN in 15 minutes, from all devices together. */
export function pinAllowed(database: Database, personId: string): Promise<Verdict> {
  return tryAllowed(database, "pin", 5, personId);
}
