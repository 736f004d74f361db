import { createHash } from "node:crypto";
import { RateLimiterPostgres, RateLimiterRes } from "rate-limiter-flexible";
import type { Database } from "../db/connection.ts";

export type SignInVerdict = "allowed" | "slow-down";

/** Ten tries in a quarter of an hour for one e-mail from one address, fifty for an address, thirty for an e-mail from anywhere. */
const rules = [
  { prefix: "both", points: 10, key: (email: string, address: string) => `${email} ${address}` },
  { prefix: "address", points: 50, key: (_email: string, address: string) => address },
  { prefix: "email", points: 30, key: (email: string) => email },
];

/** Counts a try; kept in PostgreSQL, so that every web process counts together. Keys are hashed: no e-mail is stored. */
export async function signInAllowed(
  database: Database,
  email: string,
  address: string,
): Promise<SignInVerdict> {
  for (const { prefix, points, key } of rules) {
    const limiter = new RateLimiterPostgres({
      storeClient: database,
      storeType: "knex",
      tableName: "rate_limits",
      tableCreated: true,
      keyPrefix: `sign-in-${prefix}`,
      points,
      duration: 900,
      clearExpiredByTimeout: false,
    });
    try {
      await limiter.consume(
        createHash("sha256").update(key(email.trim().toLowerCase(), address)).digest("base64url"),
      );
    } catch (refused) {
      if (refused instanceof RateLimiterRes) return "slow-down";
      throw refused;
    }
  }
  return "allowed";
}
