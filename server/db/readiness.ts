import type { Database } from "./connection.ts";
import { migrationNames } from "./migrations/index.ts";

/** True once the database has answered; throws where it cannot be reached. */
export async function isAnswering(database: Database): Promise<true> {
  await database.raw("select 1");
  return true;
}

/** The migrations of this program that the database has not had yet; one that the program does not know is a newer program's. */
export async function listMissingMigrations(database: Database): Promise<string[]> {
  const { rows } = await database.raw<{ rows: { name: string }[] }>("select name from knex_migrations");
  const there = new Set(rows.map(({ name }) => name));
  return migrationNames.filter((name) => !there.has(name));
}

/** Writes the moment into the one row that is there for this: a database that takes no writes throws. */
export async function noteReady(database: Database): Promise<void> {
  await database.raw("update ready_check set at = now()");
}
