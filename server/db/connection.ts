import knex, { type Knex } from "knex";
import pg from "pg";
import { migrationSource } from "./migrations/index.ts";
import { appKeyOf } from "./app-key.ts";
import type { Tables as Rows } from "./tables.ts";

/** What is written to a row: JSON as the text it is sent as, too. */
type Written<Row> = {
  [Column in keyof Row]?:
    | Row[Column]
    | Knex.Raw
    | (NonNullable<Row[Column]> extends Date | Buffer | string | number | boolean | unknown[]
        ? never
        : string);
};
type KnexTables = {
  [Table in keyof Rows]: Knex.CompositeTableType<Rows[Table], Written<Rows[Table]>, Written<Rows[Table]>>;
};

declare module "knex/types/tables.js" {
  // Knex looks for the rows of each table here.

  interface Tables extends KnexTables {}
}

export type Database = Knex;
export type Transaction = Knex.Transaction;
/** What runs a statement: a pool or a transaction. */
export type Run = Pick<Knex, "raw">;

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

/** How long a connection is waited for, and an answer on it; without `answer`, as long as it takes. */
interface Patience {
  connect: number;
  answer?: number;
}

/** Opens a pool of connections to a database. Nothing is connected before the first statement. Times are in milliseconds. */
export function connect(
  url: string,
  { max = 10, patience = { connect: 5000 } }: { max?: number; patience?: Patience } = {},
): Database {
  return knex({
    client: "pg",
    connection: {
      connectionString: url,
      keepAlive: true,
      connectionTimeoutMillis: patience.connect,
      ...(patience.answer === undefined ? {} : { query_timeout: patience.answer }),
    },
    pool: { min: 0, max, acquireTimeoutMillis: Math.max(15_000, patience.connect) },
    migrations: { migrationSource },
    log: silent,
    // An error of the database names the place that asked, and not only the driver's.
    asyncStackTraces: true,
  });
}

/**
 * The pool of the application. A statement that the database has not answered after 15 s is given up; before that the database itself
 * ends it (`gate.begin_here` sets its limits).
 */
export function connectApplication(url: string, { max = 10 }: { max?: number } = {}): Database {
  return connect(url, { max, patience: { connect: 4000, answer: 15_000 } }).withUserParams({
    key: appKeyOf(url),
  });
}

/**
 * Runs statements of a library on the application's pool, without the names it gives them: a named statement stays with one connection,
 * and through a pool in transaction mode the next statement comes by another.
 */
export function runUnnamed({ client }: Database) {
  const pool = client as {
    acquireConnection: () => Promise<pg.ClientBase>;
    releaseConnection: (connection: pg.ClientBase) => Promise<void>;
  };
  return async ({ text, values }: { text: string; values?: unknown[] }): Promise<pg.QueryResult> => {
    const connection = await pool.acquireConnection();
    try {
      return await connection.query(text, values);
    } finally {
      await pool.releaseConnection(connection);
    }
  };
}
