import { mkdtempSync, rmSync, statSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openThrowaway, testCluster } from "#tests/database.ts";
import type { Database } from "./connection.ts";
import { backUp, restore } from "./dump.ts";
import { migrationSource } from "./migrations/index.ts";
import { migrateAt } from "./prepare.ts";
import { rebuildSummaries } from "./summaries.ts";

let full: Awaited<ReturnType<typeof openThrowaway>>;
let empty: Awaited<ReturnType<typeof openThrowaway>>;
beforeAll(async () => {
  [full, empty] = await Promise.all([openThrowaway("demo"), openThrowaway("empty")]);
});
afterAll(() => Promise.all([full.close(), empty.close()]));

/** Every row of every table, as text, in the order of its own words. */
async function everything(owner: Database): Promise<Record<string, string[]>> {
  const { rows } = await owner.raw<{ rows: { name: string }[] }>(
    "select schemaname || '.' || tablename as name from pg_tables where schemaname in ('public', 'gate') order by 1",
  );
  const tables: Record<string, string[]> = {};
  for (const { name } of rows)
    tables[name] = (
      await owner.raw<{ rows: { row: string }[] }>(`select t::text as row from ${name} t order by 1`)
    ).rows.map(({ row }) => row);
  return tables;
}

describe("backup and restore", () => {
  it("give back every row of every table, to an application that can work with them", async () => {
    const folder = mkdtempSync(join(tmpdir(), "gentle-margin-backup-"));
    const file = join(folder, "school.backup");
    try {
      const { bin } = testCluster();
      await backUp(full.ownerUrl, file, bin);
      expect(statSync(file).mode & 0o077).toBe(0);
      await restore(empty.ownerUrl, file, bin, { replace: false });
      const before = await everything(full.owner);
      expect(before["public.entries"]?.length).toBeGreaterThan(400);
      expect(await everything(empty.owner)).toEqual(before);
      expect(await empty.app("students").count({ n: "*" }).first()).toMatchObject({ n: "0" });
      await expect(empty.app.raw("select * from gate.accounts")).rejects.toMatchObject({ code: "42501" });
      await expect(restore(empty.ownerUrl, file, bin, { replace: false })).rejects.toThrow(/--replace/);
      await restore(empty.ownerUrl, file, bin, { replace: true });
      expect(await everything(empty.owner)).toEqual(before);
      await migrateAt(empty.ownerUrl);
    } finally {
      rmSync(folder, { recursive: true });
    }
  });
});

describe("migrating", () => {
  it("brings the demo of the first release up to date, with nothing lost and its goals as they were", async () => {
    const { bin } = testCluster();
    const file = fileURLToPath(new URL("../../tests/samples/first-release.backup", import.meta.url));
    await restore(empty.ownerUrl, file, bin, { replace: true });
    const before = await everything(empty.owner);
    expect(before["public.entries"]?.length).toBeGreaterThan(400);
    await migrateAt(empty.ownerUrl);
    const after = await everything(empty.owner);
    for (const [table, rows] of Object.entries(before))
      if (!table.startsWith("public.knex_"))
        expect([table, after[table]?.length]).toEqual([table, rows.length]);
    const { rows } = await empty.owner.raw<{ rows: { title: string; said: string }[] }>(
      `select g.title, r.set_up ->> 'wording' as said from goals g join goal_revisions r
       on r.school_id = g.school_id and r.goal_id = g.goal_id where g.wording <> r.set_up ->> 'wording' or r.act <> 'made'`,
    );
    expect(rows).toEqual([]);
    expect(after["public.goal_revisions"]?.length).toBe(before["public.goals"]?.length);
    expect(await rebuildSummaries(empty.owner)).toMatchObject({ goals: before["public.goals"]?.length });
    expect(await empty.owner("people").where({ case_manager: true }).select("given_name")).toEqual([
      { given_name: "Noor" },
    ]);
  });

  it("puts what stood within the words of the audit where it belongs", async () => {
    const { bin } = testCluster();
    const file = fileURLToPath(new URL("../../tests/samples/first-release.backup", import.meta.url));
    await restore(empty.ownerUrl, file, bin, { replace: true });
    const said: [thing: string, act: string, after: object][] = [
      ["goal", "tally opened 2026-11-20", { thing: "tally", act: "opened", about_on: "2026-11-20" }],
      ["absence", "absent 2026-11-19", { thing: "absence", act: "marked", about_on: "2026-11-19" }],
      ["absence", "present 2026-11-19", { thing: "absence", act: "taken back", about_on: "2026-11-19" }],
      ["choice", "choices of behavior", { thing: "choices", act: "changed" }],
      ["goal", "not measured, refused", { thing: "not measured", act: "made" }],
      ["goal", "not measured, correct", { thing: "not measured", act: "corrected" }],
      ["goal", "observed beside", { thing: "second observation", act: "made" }],
      [
        "student",
        "2026-11-18 Recess: not observed",
        { thing: "watched day", act: "not observed", about_on: "2026-11-18" },
      ],
      [
        "student",
        "2026-11-18: nothing said",
        { thing: "watched day", act: "taken back", about_on: "2026-11-18" },
      ],
      ["goal", "changed", { thing: "goal", act: "changed", about_on: null, actor_kind: "person" }],
    ];
    const [person] = await empty
      .owner<{ school_id: string; person_id: string }>("people")
      .select("school_id", "person_id");
    await empty.owner("audit").delete();
    await empty.owner("audit").insert(said.map(([thing, act]) => ({ ...person, thing, act })));
    await migrateAt(empty.ownerUrl);
    expect(await empty.owner("audit").orderBy("audit_id")).toMatchObject(said.map(([, , after]) => after));
  });

  it("changes nothing the second time, clears a lock that a killed process left, and takes turns", async () => {
    await full.owner("knex_migrations_lock").update({ is_locked: 1 });
    await Promise.all([migrateAt(full.ownerUrl), migrateAt(full.ownerUrl), migrateAt(full.ownerUrl)]);
    const names = await migrationSource.getMigrations([]);
    expect(await full.owner("knex_migrations").orderBy("id").pluck("name")).toEqual(names);
    expect(await full.owner("knex_migrations_lock").select("is_locked")).toEqual([{ is_locked: 0 }]);
  });
});
