import pg from "pg";
import { prepareJobs } from "../jobs/prepare.ts";
import { appRole, withClient } from "./client.ts";
import { connect } from "./connection.ts";

export const ownerRole = "gentle_margin_owner";

async function ensureRole(client: pg.Client, role: string, password: string): Promise<void> {
  const found = await client.query("select 1 from pg_roles where rolname = $1", [role]);
  const verb = found.rowCount === 0 ? "create" : "alter";
  await client.query(
    `${verb} role ${pg.escapeIdentifier(role)} login password ${pg.escapeLiteral(password)}`,
  );
}

/** In a cluster of our own: makes both roles and the database, owned by the owner role, where they are missing. */
export async function makeDatabase(
  adminUrl: string,
  { database, ownerPassword, appPassword }: { database: string; ownerPassword: string; appPassword: string },
): Promise<void> {
  await withClient(adminUrl, async (client) => {
    await ensureRole(client, ownerRole, ownerPassword);
    await ensureRole(client, appRole, appPassword);
    const found = await client.query("select 1 from pg_database where datname = $1", [database]);
    if (found.rowCount === 0) {
      await client.query(`create database ${pg.escapeIdentifier(database)} owner ${ownerRole}`);
    }
  });
}

/** Deletes a database and ends every connection to it. */
export async function dropDatabase(adminUrl: string, database: string): Promise<void> {
  await withClient(adminUrl, (client) =>
    client.query(`drop database if exists ${pg.escapeIdentifier(database)} with (force)`),
  );
}

/**
 * On a server given by `DATABASE_URL`, whose account owns the database: makes the application role if that account may
 * make roles; otherwise says which statements the server's administrator has to run.
 */
export async function ensureAppRole(ownerUrl: string, appPassword: string): Promise<string> {
  await withClient(ownerUrl, async (client) => {
    const { rows } = await client.query<{ may: boolean; there: boolean }>(
      `select (rolcreaterole or rolsuper) as may, exists (select 1 from pg_roles where rolname = $1) as there
       from pg_roles where rolname = current_user`,
      [appRole],
    );
    if (rows[0]?.may) return ensureRole(client, appRole, appPassword);
    throw new Error(
      `The account in DATABASE_URL may not make roles. Ask the server's administrator to run:\n\n` +
        `  ${rows[0]?.there ? "alter" : "create"} role ${appRole} login password '…';\n\n` +
        `and set APP_DATABASE_URL to the same database with that role and password.`,
    );
  });
  const url = new URL(ownerUrl);
  url.username = appRole;
  url.password = appPassword;
  return url.toString();
}

const migrationLock = 7_205_759_403;

/**
 * Brings the database's tables up to date. An advisory lock makes concurrent starts take turns; whoever holds it knows that
 * a lock row in knex's own table was left by a process that is no more, and clears it. The lock ends with its connection.
 */
export async function migrateAt(ownerUrl: string): Promise<void> {
  await withClient(ownerUrl, async (client) => {
    await client.query("select pg_advisory_lock($1)", [migrationLock]);
    const owner = connect(ownerUrl, { max: 2 });
    try {
      await owner.migrate.forceFreeMigrationsLock();
      await owner.migrate.latest();
      await prepareJobs(ownerUrl);
    } finally {
      await owner.destroy();
    }
  });
}
