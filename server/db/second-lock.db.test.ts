import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { type OpenDatabase, openThrowaway, testCluster } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import type { PersonKey } from "#demo/school.ts";
import { connect, connectApplication, type Transaction } from "./connection.ts";
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
         and (select count(*) filter (where p.polname in ('owner_lock', 'school_lock')) = 2 from pg_policy p where p.polrelid = c.oid) as locked
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
        await trx.raw("select gate.enter(?, null)", [demo.person("noor").session]);
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

/** Rows of the school's, of its people or of a device of theirs, and none of a student. */
const notOfStudents = [
  ...["audiences", "closures", "device_keys", "goal_templates", "groups", "incident_settings"],
  ...[
    "jot_categories",
    "ladders",
    "message_settings",
    "message_templates",
    "open_sittings",
    "people",
    "pins",
    "reporting_periods",
    "retention",
    "roll_overs",
    "school_lists",
  ],
  ...["school_years", "schools", "sittings", "statement_ratings", "timetable", "wrong_addresses"],
];

describe("the second lock by circle", () => {
  const as = <T>(key: PersonKey, work: (trx: Transaction) => Promise<T>) =>
    inScope(db.app, demo.person(key), null, ({ trx }) => work(trx));
  const tablesAbout = (columns: readonly string[]) =>
    rowsOf<{ name: string; locked: boolean }>(
      db.owner,
      `select c.relname as name, exists (select 1 from pg_policy p where p.polrelid = c.oid and p.polname = 'circle_lock'
         and not p.polpermissive) as locked
       from pg_class c where c.relnamespace = 'public'::regnamespace and c.relkind = 'r' and exists (select 1 from pg_attribute a
         where a.attrelid = c.oid and not a.attisdropped and a.attname in (${columns.map((name) => `'${name}'`).join(", ")}))
       order by c.relname`,
    );

  it("is on every table of a school but those that say nothing of a student", async () => {
    const open = (await tablesAbout(["school_id"])).filter(({ locked }) => !locked);
    expect(open.map(({ name }) => name)).toEqual(notOfStudents);
  });

  it("shows rows of a student to the circle and to nobody else, in every table", async () => {
    const wren = demo.student("Wren");
    const count = async (key: PersonKey, table: string) =>
      as(key, async (trx) =>
        Number((await trx(table).where({ student_id: wren }).count({ n: "*" }))[0]?.["n"]),
      );
    const seen: string[] = [];
    // An administrator says who is in a circle: the student, the circle, what happened to it, and groups.
    const ofAdministrator = new Set([
      "students",
      "circle",
      "audit",
      "group_members",
      "report_views",
      "statement_writers",
      // What is asked by right, what may not be erased, and what is.
      "rights_requests",
      "record_holds",
      "erasures",
      // That there was a message, and not its text.
      "messages",
    ]);
    for (const { name } of await tablesAbout(["student_id"])) {
      const all = (await db.owner(name).where({ student_id: wren })).length;
      expect([name, await count("noor", name)]).toEqual([name, all]);
      expect([name, await count("gus", name)]).toEqual([name, name === "circle" ? all : 0]);
      // What changed in a row is seen by who may see the row.
      const changed = (await db.owner("audit_changes").where({ student_id: wren })).filter(({ of_table }) =>
        ["students", "circle", "group_members"].includes(of_table),
      );
      const forDesmond = name === "audit_changes" ? changed.length : ofAdministrator.has(name) ? all : 0;
      expect([name, await count("desmond", name)]).toEqual([name, forDesmond]);
      if (all > 0) seen.push(name);
    }
    expect(seen.length).toBeGreaterThan(14);
    // What hangs on another row goes with it.
    const hanging = {
      incident_choices: "incidents g where g.incident_id = t.incident_id",
      edition_shares: "editions g where g.edition_id = t.edition_id",
      revisions: "entries g where g.entry_id = t.thing_id",
    };
    for (const [table, tie] of Object.entries(hanging)) {
      const query = `select count(*)::int as n from ${table} t`;
      const [mine] = await rowsOf<{ n: number }>(
        db.owner,
        `${query} where exists (select 1 from ${tie} and g.student_id = '${wren}')`,
      );
      const ids = await rowsOf<{ id: string }>(
        db.owner,
        `select ctid::text as id from ${table} t where exists (select 1 from ${tie} and g.student_id = '${wren}')`,
      );
      const seenBy = (key: PersonKey) =>
        as(key, (trx) =>
          rowsOf<{ n: number }>(
            trx,
            `${query} where ctid = any('{${ids.map(({ id }) => `"${id}"`).join(",")}}'::tid[])`,
          ),
        );
      expect([table, await seenBy("noor")]).toEqual([table, [mine]]);
      expect([table, await seenBy("gus")]).toEqual([table, [{ n: 0 }]]);
    }
  });

  it("cannot be chosen by SQL: not by a name, not by a seal of before, and not through the gate", async () => {
    const wren = demo.student("Wren");
    const entries = "select count(*)::int as n from entries";
    const [kept] = await as("noor", (trx) =>
      rowsOf<{ here: string; seal: string }>(
        trx,
        "select current_setting('app.here') as here, current_setting('app.seal') as seal",
      ),
    );
    const nothing = [{ n: 0 }];
    await db.app.transaction(async (trx) => {
      await trx.raw("select set_config('app.school', ?, true)", [demo.schoolId]);
      expect(await rowsOf(trx, entries)).toEqual(nothing);
      await trx.raw("select set_config('app.here', ?, true), set_config('app.seal', ?, true)", [
        kept?.here ?? "",
        kept?.seal ?? "",
      ]);
      expect(await rowsOf(trx, entries)).toEqual(nothing);
    });
    // Within a transaction of one's own, one student more is one too many: then nothing is seen.
    await as("gus", async (trx) => {
      expect(await rowsOf(trx, entries)).not.toEqual(nothing);
      await trx.raw("select set_config('app.here', left(current_setting('app.here'), 127) || ?, true)", [
        `{${wren}}`,
      ]);
      expect(await rowsOf(trx, entries)).toEqual(nothing);
    });
    for (const call of [
      `public.enter_school('${demo.schoolId}', null, null)`,
      `gate.seal_of('x')`,
      `gate.set_here('${demo.schoolId}', null, 'j', true, true, '{}')`,
      `gate.open_session('x', '${wren}', '${demo.schoolId}', '${wren}', null)`,
      `gate.account_by_email('noor.halloran@larkspurbay.example')`,
    ])
      await expect(db.app.raw(`select ${call}`), call).rejects.toMatchObject({ code: "42501" });
    for (const table of ["gate.seal_keys", "gate.app_keys", "gate.sessions"])
      await expect(db.app.raw(`select * from ${table}`)).rejects.toMatchObject({ code: "42501" });
    const wrong = Buffer.alloc(32);
    expect(
      await rowsOf(
        db.app,
        "select * from gate.account_by_email('\\x00', 'noor.halloran@larkspurbay.example')",
      ),
    ).toEqual([]);
    const work = await db.app.raw<{ rows: unknown[] }>("select * from gate.enter_work(?, ?)", [
      wrong,
      demo.schoolId,
    ]);
    expect(work.rows).toEqual([]);
    const sessions = async () => Number((await db.owner("gate.sessions").count({ n: "*" }))[0]?.["n"]);
    const before = await sessions();
    const { personId } = demo.person("desmond");
    const [account] = await db.owner("gate.memberships").where({ person_id: personId }).pluck("account_id");
    await db.app.raw("select gate.open_session(?, ?, ?, ?, ?, null)", [
      wrong,
      wrong,
      account,
      demo.schoolId,
      personId,
    ]);
    expect(await sessions()).toBe(before);
  });

  it("lets into a circle only by who may say who is in it, and takes a device over only on the application's word", async () => {
    const mine = { school_id: demo.schoolId, person_id: demo.person("gus").personId, part: "lead" as const };
    await expect(
      as("gus", (trx) => trx("circle").insert({ ...mine, student_id: demo.student("Wren") })),
    ).rejects.toMatchObject({
      code: "42501",
    });
    // Not even their own part, where they record.
    const [own] = await db
      .owner("circle")
      .where({ person_id: mine.person_id, part: "record" })
      .pluck<string[]>("student_id");
    const changed = await as("gus", (trx) =>
      trx("circle")
        .where({ person_id: mine.person_id, student_id: own ?? "" })
        .update({ part: "lead" }),
    );
    expect([own === undefined, changed]).toEqual([false, 0]);
    await expect(
      as("gus", (trx) =>
        trx("handovers").insert({
          school_id: demo.schoolId,
          handover_id: own ?? "",
          from_id: mine.person_id,
          person_id: demo.person("noor").personId,
        }),
      ),
    ).rejects.toMatchObject({ code: "42501" });
    await as("gus", async (trx) => {
      await trx.raw("select gate.hand_over('\\x00', ?, ?)", [own ?? "", demo.person("noor").personId]);
      await trx.raw("select gate.enter_for_colleague(?)", [own ?? ""]);
      expect(
        await rowsOf(
          trx,
          `select count(*)::int as n from entries where student_id = '${demo.student("Wren")}'`,
        ),
      ).toEqual([{ n: 0 }]);
    });
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
