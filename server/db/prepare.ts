import { createHash } from "node:crypto";
import { readFileSync } from "node:fs";
import pRetry from "p-retry";
import pg from "pg";
import { prepareJobs } from "../jobs/prepare.ts";
import { appKeyOf } from "./app-key.ts";
import { appRole, withClient } from "./client.ts";
import { connect, type Database } from "./connection.ts";
import { migrationNames } from "./migrations/index.ts";
import { lockOwner } from "./second-lock.ts";
import { rebuildSummaries } from "./summaries.ts";

export const ownerRole = "gentle_margin_owner";

/** The role with which the application of one database signs in: its rights are those of `gentle_margin_app`, in this database alone. */
export const webRole = (database: string): string => `${database.slice(0, 58)}_web`;

const isThere = async (client: pg.Client, role: string): Promise<boolean> =>
  (await client.query("select 1 from pg_roles where rolname = $1", [role])).rowCount !== 0;

/** Makes the role that holds the application's rights, and nobody's password. */
async function ensureRights(client: pg.Client): Promise<void> {
  if (!(await isThere(client, appRole))) await client.query(`create role ${appRole} nologin`);
}

/** Makes a role, or gives it this password again: for the roles of a cluster of our own, whose passwords are ours alone. */
async function ensureRole(client: pg.Client, role: string, password: string): Promise<void> {
  const verb = (await isThere(client, role)) ? "alter" : "create";
  await client.query(
    `${verb} role ${pg.escapeIdentifier(role)} login password ${pg.escapeLiteral(password)}`,
  );
}

/** Lets the application's role into this database, and nobody else's. */
async function openTo(client: pg.Client, database: string, role: string): Promise<void> {
  const [name, to] = [pg.escapeIdentifier(database), pg.escapeIdentifier(role)];
  await client.query(`grant ${appRole} to ${to}`);
  await client.query(`revoke connect, temporary on database ${name} from public`);
  await client.query(`grant connect on database ${name} to ${to}`);
}

/** In a cluster of our own: makes both roles and the database, owned by the owner role, where they are missing. */
export async function makeDatabase(
  adminUrl: string,
  { database, ownerPassword, appPassword }: { database: string; ownerPassword: string; appPassword: string },
): Promise<void> {
  await withClient(adminUrl, async (client) => {
    await ensureRights(client);
    await ensureRole(client, ownerRole, ownerPassword);
    await ensureRole(client, webRole(database), appPassword);
    const found = await client.query("select 1 from pg_database where datname = $1", [database]);
    if (found.rowCount === 0) {
      await client.query(`create database ${pg.escapeIdentifier(database)} owner ${ownerRole}`);
    }
    await openTo(client, database, webRole(database));
  });
}

/** Deletes a database and ends every connection to it. */
export async function dropDatabase(adminUrl: string, database: string): Promise<void> {
  await withClient(adminUrl, (client) =>
    client.query(`drop database if exists ${pg.escapeIdentifier(database)} with (force)`),
  );
}

const canSignIn = (url: string): Promise<boolean> =>
  withClient(url, () => Promise.resolve(true)).catch((error: unknown) => {
    // Wrong password (28P01), or a way in that needs none of ours (28000).
    if (error instanceof Error && "code" in error && String(error.code).startsWith("28")) return false;
    throw error;
  });

/**
 * On a server given by `DATABASE_URL`, whose account owns the database: makes the application's role of this database, if that account may
 * make roles; otherwise says which statements the server's administrator has to run. A role that is there keeps its password.
 *
 * @returns the address of the database for the application
 */
export async function ensureAppRole(ownerUrl: string, appPassword: string): Promise<string> {
  const url = new URL(ownerUrl);
  const database = decodeURIComponent(url.pathname.slice(1));
  const role = webRole(database);
  url.username = role;
  url.password = appPassword;
  await withClient(ownerUrl, async (client) => {
    const there = await isThere(client, role);
    if (there && (await canSignIn(url.toString()))) return;
    const { rows } = await client.query<{ may: boolean }>(
      "select (rolcreaterole or rolsuper) as may from pg_roles where rolname = current_user",
    );
    if (rows[0]?.may && !there) {
      await ensureRights(client);
      await ensureRole(client, role, appPassword);
      return openTo(client, database, role);
    }
    throw new Error(
      `${there ? `The role ${role} has another password than this folder knows.` : "The account in DATABASE_URL may not make roles."} ` +
        `Ask the server's administrator to run:\n\n` +
        (there ? "" : `  create role ${appRole} nologin;\n`) +
        `  ${there ? "alter" : "create"} role ${role} login password '…';\n` +
        `  grant ${appRole} to ${role};\n\n` +
        `and set APP_DATABASE_URL to the same database with that role and password.`,
    );
  });
  return url.toString();
}

/** Lets the application of an address show its key (`app-key.ts`); keys that were not used at a start for 400 days are forgotten. */
export async function admitApplication(ownerUrl: string, appUrl: string): Promise<void> {
  await withClient(ownerUrl, (client) =>
    client.query(
      `with known as (insert into gate.app_keys (key_hash) values (sha256($1)) on conflict (key_hash) do update set seen_at = now())
       delete from gate.app_keys where seen_at < now() - interval '400 days' and key_hash <> sha256($1)`,
      [appKeyOf(appUrl)],
    ),
  );
}

/** Refuses an address for the application that reaches past the locks: the owner's, or that of one who may do everything. */
export async function checkAppUrl(appUrl: string): Promise<void> {
  await withClient(appUrl, async (client) => {
    const { rows } = await client.query<{ master: boolean; owns: boolean; may: boolean }>(
      `select r.rolsuper or r.rolbypassrls or r.rolcreaterole as master,
         pg_has_role(r.oid, d.datdba, 'usage') as owns, pg_has_role(r.oid, $1, 'usage') as may
       from pg_roles r, pg_database d where r.rolname = current_user and d.datname = current_database()`,
      [appRole],
    );
    const found = rows[0];
    if (found?.master || found?.owns)
      throw new Error(
        "APP_DATABASE_URL signs in as the database's owner or as one who may do everything. The application needs a role that owns " +
          `nothing: one with the rights of ${appRole}, as docs/operations.md says.`,
      );
    if (!found?.may)
      throw new Error(
        `The role in APP_DATABASE_URL has not the rights of ${appRole}. Run: grant ${appRole} to that role.`,
      );
  });
}

/** A database that a newer program has brought up to date is not touched by an older one. */
async function refuseNewer(owner: Database): Promise<void> {
  if (!(await owner.schema.hasTable("knex_migrations"))) return;
  const there = await owner<{ name: string }>("knex_migrations").pluck("name");
  const unknown = there.find((name) => !migrationNames.includes(name));
  if (unknown !== undefined)
    throw new Error(
      `A newer version of Gentle Margin has worked with this database (${unknown}). Nothing was changed: start that version, or ` +
        "restore a backup from before it.",
    );
}

/** What a migration says, without its blanks: formatting is no change. */
function sumOf(name: string): string {
  const source = readFileSync(new URL(`./migrations/${name}.ts`, import.meta.url), "utf8");
  return createHash("sha256").update(source.replaceAll(/\s/g, "")).digest("hex");
}

/** A migration that was changed after it was applied would leave every database another one. */
async function refuseChanged(owner: Database): Promise<void> {
  if (!(await owner.schema.hasTable("migration_sums"))) return;
  const sums = await owner<{ name: string; sum: string }>("migration_sums").select();
  const changed = sums.find(({ name, sum }) => migrationNames.includes(name) && sumOf(name) !== sum);
  if (changed)
    throw new Error(
      `The migration ${changed.name} was changed after this database had it. Nothing was changed: put the file back as it was and ` +
        "write the change as a new migration (a demo may be started over with npm run demo -- --fresh).",
    );
}

async function keepSums(owner: Database): Promise<void> {
  await owner("migration_sums")
    .insert(migrationNames.map((name) => ({ name, sum: sumOf(name) })))
    .onConflict("name")
    .ignore();
}

const migrationLock = 7_205_759_403;

/** The same address, whose statements wait this long for a lock. A migration that waits for a table holds up everybody who wants it after. */
function waitingForLocks(ownerUrl: string, milliseconds: number): string {
  const url = new URL(ownerUrl);
  url.searchParams.set("options", `-c lock_timeout=${milliseconds}`);
  return url.toString();
}

const isLockTimeout = (error: unknown) => error instanceof Error && "code" in error && error.code === "55P03";

/**
 * Brings the database's tables up to date. An advisory lock makes concurrent starts take turns; whoever holds it knows that
 * a lock row in knex's own table was left by a process that is no more, and clears it. The lock ends with its connection.
 *
 * It may be done while people work: a migration that does not get a table within two seconds gives way, and tries again for about a minute. Summaries
 * of an earlier format are made anew.
 */
export async function migrateAt(ownerUrl: string): Promise<void> {
  await withClient(ownerUrl, async (client) => {
    await client.query("select pg_advisory_lock($1)", [migrationLock]);
    const owner = connect(waitingForLocks(ownerUrl, 2000), { max: 2 });
    try {
      await refuseNewer(owner);
      await refuseChanged(owner);
      await pRetry(
        async () => {
          await owner.migrate.forceFreeMigrationsLock();
          await owner.migrate.latest();
        },
        { retries: 20, minTimeout: 1000, factor: 1, shouldRetry: isLockTimeout },
      );
      await keepSums(owner);
      await prepareJobs(ownerUrl);
      await lockOwner(client);
      await rebuildSummaries(owner, "stale");
    } finally {
      await owner.destroy();
    }
  });
}
