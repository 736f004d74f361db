import { randomBytes } from "node:crypto";
import pg from "pg";
import { connect, type Database } from "#server/db/connection.ts";

/** The test run's own cluster, as its start script describes it. */
interface TestCluster {
  admin: string;
  owner: string;
  app: string;
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
  ownerUrl: string;
  appUrl: string;
  drop: () => Promise<void>;
  /** Cuts the application's connections and refuses new ones, or lets them in again. */
  setReachable: (reachable: boolean) => Promise<void>;
}

/** A database of one test's own, copied from a migrated template. */
export async function throwawayDatabase(template: Template = "empty"): Promise<TestDatabase> {
  const { owner, app } = testCluster();
  const name = `test_${randomBytes(6).toString("hex")}`;
  await asAdmin(`create database ${name} template ${templateName(template)} owner gentle_margin_owner`);
  return {
    ownerUrl: urlOf(owner, name),
    appUrl: urlOf(app, name),
    async setReachable(reachable) {
      await asAdmin(
        `${reachable ? "grant" : "revoke"} connect on database ${name} ${reachable ? "to" : "from"} public`,
      );
      if (!reachable)
        await asAdmin(
          `select pg_terminate_backend(pid) from pg_stat_activity where datname = '${name}' and usename = 'gentle_margin_app'`,
        );
    },
    drop: () => asAdmin(`drop database if exists ${name} with (force)`),
  };
}

/** The same with both connections open; `close` ends them and drops the database. */
export async function openThrowaway(
  template: Template = "empty",
): Promise<TestDatabase & { owner: Database; app: Database; close: () => Promise<void> }> {
  const database = await throwawayDatabase(template);
  const owner = connect(database.ownerUrl, { max: 4 });
  const app = connect(database.appUrl, { max: 10 });
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
