import knex, { type Knex } from "knex";
import pg from "pg";
import { migrationSource } from "./migrations/index.ts";

export type Database = Knex;
export type Transaction = Knex.Transaction;

const dateType = 1082;
/** A date has no time zone: it stays the text `YYYY-MM-DD` that the database gives. */
pg.types.setTypeParser(dateType, (text) => text);

/** Knex would print statements with what they carry; what goes wrong is thrown, and logged without it. */
const silent = {
  warn: () => undefined,
  error: () => undefined,
  deprecate: () => undefined,
  debug: () => undefined,
};

export function connect(url: string, { max = 10 }: { max?: number } = {}): Database {
  return knex({
    client: "pg",
    connection: { connectionString: url, keepAlive: true, connectionTimeoutMillis: 5000 },
    pool: { min: 0, max, acquireTimeoutMillis: 15_000 },
    migrations: { migrationSource },
    log: silent,
  });
}
