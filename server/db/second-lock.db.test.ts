import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type OpenDatabase, openThrowaway, testCluster } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { connect, connectApplication } from "./connection.ts";
import { checkAppUrl, ensureAppRole, migrateAt, webRole } from "./prepare.ts";

let db: OpenDatabase;
let demo: DemoIds;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
});
afterAll(() => db.close());

const rowsOf = async <Row>(database: OpenDatabase["owner"], query: string, values: string[] = []) =>
  (await database.raw<{ rows: Row[] }>(query, values)).rows;

describe("the second lock", () => {
  it("is on every table of a school, for its owner as well", async () => {
    const tables = await rowsOf<{ name: string; locked: boolean }>(
      db.owner,
      `select c.relname as name, c.relrowsecurity and c.relforcerowsecurity
         and (select count(*) = 2 from pg_policy p where p.polrelid = c.oid) as locked
       from pg_class c join pg_namespace n on n.oid = c.relnamespace
       where n.nspname = 'public' and c.relkind = 'r' and exists (select 1 from pg_attribute a
         where a.attrelid = c.oid and a.attname = 'school_id' and not a.attisdropped)`,
    );
    expect(tables.length).toBeGreaterThan(30);
    expect(tables.filter(({ locked }) => !locked)).toEqual([]);
  });

  it("shows the owner one school's rows where one is entered, and all where none is", async () => {
    const count = "select count(*)::int as n from public.entries";
    const [all] = await rowsOf<{ n: number }>(db.owner, count);
    expect(all?.n).toBeGreaterThan(400);
    await db.owner.transaction(async (trx) => {
      await trx.raw("select set_config('app.school', ?, true)", ["01900000-0000-7000-8000-000000000000"]);
      expect(await rowsOf(trx, count)).toEqual([{ n: 0 }]);
      await trx.raw("select set_config('app.school', ?, true)", [demo.schoolId]);
      expect(await rowsOf(trx, count)).toEqual([all]);
    });
  });

  it("is the same in every function that works with its owner's rights", async () => {
    const functions = await rowsOf<{ name: string; config: string[] | null; open: boolean }>(
      db.owner,
      `select p.oid::regprocedure::text as name, p.proconfig as config,
         exists (select 1 from aclexplode(coalesce(p.proacl, acldefault('f', p.proowner))) a where a.grantee = 0) as open
       from pg_proc p join pg_namespace n on n.oid = p.pronamespace
       where p.prosecdef and n.nspname in ('public', 'gate', 'jobs')`,
    );
    expect(functions.length).toBeGreaterThan(7);
    for (const { name, config, open } of functions)
      expect({ name, config, open }).toEqual({
        name,
        config: ["search_path=pg_catalog, pg_temp"],
        open: false,
      });
  });

  it("holds against a table of the caller's own under the name of one of ours", async () => {
    const trick = `create temporary table entries (school_id uuid, goal_id uuid);
      create temporary table goals (school_id uuid, goal_id uuid, parent_id uuid)`;
    await expect(db.app.raw(trick)).rejects.toMatchObject({ code: "42501" });
    // Even where somebody lets the application make temporary tables again.
    const [{ name } = { name: "" }] = await rowsOf<{ name: string }>(
      db.owner,
      "select current_database() as name",
    );
    await db.owner.raw(`grant temporary on database ${name} to gentle_margin_app`);
    const one = connect(db.appUrl, { max: 1 });
    try {
      await one.transaction(async (trx) => {
        await trx.raw(trick);
        await trx.raw("select enter_school(?, null, null)", [demo.schoolId]);
        const removed = await rowsOf(trx, "select public.remove_unused_goal(?) as removed", [
          demo.goal("Wren", "2b"),
        ]);
        expect(removed).toEqual([{ removed: false }]);
      });
    } finally {
      await one.destroy();
      await db.owner.raw(`revoke temporary on database ${name} from gentle_margin_app`);
    }
    expect(await db.owner("goals").where({ goal_id: demo.goal("Wren", "2b") })).toHaveLength(1);
  });
});

describe("the roles of a database", () => {
  it("an address that reaches past the locks is not taken for the application's", async () => {
    await expect(checkAppUrl(db.ownerUrl)).rejects.toThrow(/owns nothing/);
    const superuser = new URL(testCluster().admin);
    superuser.pathname = new URL(db.appUrl).pathname;
    await expect(checkAppUrl(superuser.toString())).rejects.toThrow(/owns nothing/);
    await checkAppUrl(db.appUrl);
  });

  it("are each database's own: a start elsewhere changes no password, and they come into no other", async () => {
    const admin = new URL(testCluster().admin);
    admin.pathname = new URL(db.appUrl).pathname;
    const name = admin.pathname.slice(1);
    const first = await ensureAppRole(admin.toString(), "the first password");
    expect(new URL(first).username).toBe(webRole(name));
    // The same from another folder, with another password: said, and nothing changed.
    await expect(ensureAppRole(admin.toString(), "the second password")).rejects.toThrow(/alter role/);
    await checkAppUrl(first);
    const other = await openThrowaway("empty");
    try {
      const otherAdmin = new URL(testCluster().admin);
      otherAdmin.pathname = new URL(other.appUrl).pathname;
      await ensureAppRole(otherAdmin.toString(), "of the other");
      const across = new URL(first);
      across.pathname = otherAdmin.pathname;
      const stranger = connectApplication(across.toString());
      await expect(stranger.raw("select 1")).rejects.toMatchObject({ code: "42501" });
      await stranger.destroy();
    } finally {
      await other.close();
    }
  });

  it("a program older than its database says so and changes nothing", async () => {
    await db.owner("knex_migrations").insert({ name: "999-later", batch: 9, migration_time: new Date() });
    await expect(migrateAt(db.ownerUrl)).rejects.toThrow(/newer version of Gentle Margin/);
    await db.owner("knex_migrations").where({ name: "999-later" }).delete();
    await migrateAt(db.ownerUrl);
  });
});
