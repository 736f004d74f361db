import { randomBytes } from "node:crypto";
import pg from "pg";
import { connect, connectApplication, type Database } from "#server/db/connection.ts";
import { clockAhead } from "./clock.ts";

/** The test run's own cluster, as its start script describes it. */
interface TestCluster {
  admin: string;
  owner: string;
  app: string;
  /** The application's address through a pool of connections in transaction mode; null where the run has none. */
  pooled: string | null;
  bin: string;
}

export type Template = "empty" | "demo";
export const templateName = (template: Template) => `gentle_margin_template_${template}`;

export function testCluster(): TestCluster {
  const text = process.env["GENTLE_MARGIN_TEST_CLUSTER"];
  if (!text)
    throw new Error("These tests need a database: run them with `npm test`, or `npm test -- --only db`.");
  return JSON.parse(text) as TestCluster;
}

export function urlOf(base: string, database: string): string {
  const url = new URL(base);
  url.pathname = `/${database}`;
  return url.toString();
}

async function asAdmin(statement: string): Promise<void> {
  const client = new pg.Client({ connectionString: testCluster().admin });
  await client.connect();
  try {
    await client.query(statement);
  } finally {
    await client.end();
  }
}

export interface TestDatabase {
  /** By how many milliseconds its clock is ahead of the real one. */
  clockAhead: number;
  ownerUrl: string;
  appUrl: string;
  /** What a web server on it is started with: its address through the pool, and the direct one to listen at. */
  pooled: { url: string; env: { LISTEN_DATABASE_URL?: string } };
  drop: () => Promise<void>;
  /** Cuts the application's connections and refuses new ones, or lets them in again. */
  setReachable: (reachable: boolean) => Promise<void>;
}

export interface ThrowawayOptions {
  at?: string | undefined;
  name?: string;
}

export const freshName = () => `test_${randomBytes(6).toString("hex")}`;

/** A database of one test's own, copied from a migrated template; with `at` (ISO), its clock starts there instead of at the run's. */
export async function throwawayDatabase(
  template: Template = "empty",
  { at, name = freshName() }: ThrowawayOptions = {},
): Promise<TestDatabase> {
  const { owner, app, pooled } = testCluster();
  await asAdmin(`create database ${name} template ${templateName(template)} owner gentle_margin_owner`);
  // Who may come in and make temporary tables is no part of a copy.
  await asAdmin(`revoke temporary on database ${name} from public`);
  const ahead = at === undefined ? clockAhead : Date.parse(at) - Date.now();
  if (at !== undefined)
    await asAdmin(`alter database ${name} set "app.clock_ahead" = '${ahead} milliseconds'`);
  return {
    clockAhead: ahead,
    ownerUrl: urlOf(owner, name),
    appUrl: urlOf(app, name),
    pooled: pooled
      ? { url: urlOf(pooled, name), env: { LISTEN_DATABASE_URL: urlOf(app, name) } }
      : { url: urlOf(app, name), env: {} },
    async setReachable(reachable) {
      await asAdmin(
        `${reachable ? "grant" : "revoke"} connect on database ${name} ${reachable ? "to" : "from"} public`,
      );
      if (!reachable)
        await asAdmin(
          `select pg_terminate_backend(pid) from pg_stat_activity where datname = '${name}' and usename = '${new URL(app).username}'`,
        );
    },
    drop: () => asAdmin(`drop database if exists ${name} with (force)`),
  };
}

export interface OpenDatabase extends TestDatabase {
  owner: Database;
  app: Database;
  close: () => Promise<void>;
}

/** The same with both connections open; `close` ends them and drops the database. */
export async function openThrowaway(
  template: Template = "empty",
  options: ThrowawayOptions = {},
): Promise<OpenDatabase> {
  const database = await throwawayDatabase(template, options);
  const owner = connect(database.ownerUrl, { max: 4 });
  const app = connectApplication(database.appUrl);
  return {
    ...database,
    owner,
    app,
    async close() {
      await Promise.all([owner.destroy(), app.destroy()]);
      await database.drop();
    },
  };
}
