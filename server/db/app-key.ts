import { createHmac } from "node:crypto";
import type { Knex } from "knex";

/**
 * The key with which the application shows the database that it asks, and not only SQL in its name: made of the password of its address, or
 * else of `APP_KEY`. The database has its hash alone (`gate.app_keys`).
 *
 * @throws where neither is there
 */
export function appKeyOf(appUrl: string): Buffer {
  const secret = decodeURIComponent(new URL(appUrl).password) || process.env["APP_KEY"];
  if (!secret)
    throw new Error(
      "APP_DATABASE_URL has no password, so the application needs a secret of its own: set APP_KEY to 30 or more random characters, the same " +
        "for every process of this site.",
    );
  return createHmac("sha256", secret).update("gentle margin, the application").digest();
}

/** What asks the database with the application's key: its pool, or a transaction of it. */
export type KeyedRun = Pick<Knex, "raw" | "userParams">;

/** The key of a pool that was opened for the application. */
export function keyIn({ userParams }: Pick<Knex, "userParams">): Buffer {
  const key: unknown = userParams["key"];
  if (!Buffer.isBuffer(key)) throw new Error("this connection is not the application's");
  return key;
}
