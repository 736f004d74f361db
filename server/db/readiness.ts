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

/** How old the last backup is; null where none was made. */
export async function lastBackup(database: Database): Promise<{ hours: number } | null> {
  const { rows } = await database.raw<{ rows: { hours: number | null }[] }>(
    "select extract(epoch from now() - max(at))::float8 / 3600 as hours from backup_runs where kind = 'made'",
  );
  const hours = rows[0]?.hours ?? null;
  return hours === null ? null : { hours };
}

/** How long the oldest job of each queue that has any has been waiting since its time came, in seconds. */
export async function listWaitingJobs(database: Database): Promise<{ queue: string; seconds: number }[]> {
  const { rows } = await database.raw<{ rows: { queue: string; seconds: number }[] }>(
    `select name as queue, extract(epoch from now() - min(start_after))::float8 as seconds from jobs.job
     where state in ('created', 'retry') and start_after <= now() group by name`,
  );
  return rows;
}
