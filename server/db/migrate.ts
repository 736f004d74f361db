import type { Database } from "./connection.ts";

const lockKey = 7_205_759_403_792_793;

/**
 * Brings the database's tables up to date. An advisory lock makes concurrent starts take turns; whoever holds it knows that
 * a lock row in knex's own table was left by a process that is no more, and clears it.
 */
export async function migrate(owner: Database): Promise<void> {
  const connection: unknown = await owner.client.acquireConnection();
  try {
    await owner.raw("select pg_advisory_lock(?)", [lockKey]).connection(connection);
    await owner.migrate.forceFreeMigrationsLock();
    await owner.migrate.latest();
  } finally {
    await owner.raw("select pg_advisory_unlock(?)", [lockKey]).connection(connection);
    await owner.client.releaseConnection(connection);
  }
}
