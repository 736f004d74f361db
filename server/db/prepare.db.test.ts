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

/** How many steps the history of each kind of thing has. */
async function countsOf(owner: Database): Promise<Record<string, number>> {
  const { rows } = await owner.raw<{ rows: { thing: string; n: number }[] }>(
    "select thing, count(*)::int as n from revisions group by thing",
  );
  return Object.fromEntries(rows.map(({ thing, n }) => [thing, n]));
}

describe("migrating", () => {
  it("carries every history over into one, step by step, with nothing lost", async () => {
    const { bin } = testCluster();
    const file = fileURLToPath(new URL("../../tests/samples/before-one-history.backup", import.meta.url));
    await restore(empty.ownerUrl, file, bin, { replace: true });
    const before = await everything(empty.owner);
    const count = (table: string) => before[`public.${table}`]?.length ?? 0;
    await migrateAt(empty.ownerUrl);
    expect(await countsOf(empty.owner)).toEqual({
      entry: count("entry_revisions"),
      incident: count("incident_revisions"),
      goal: count("goal_revisions"),
      plan: count("plan_revisions"),
      // Two decisions; one was corrected twice and removed.
      decision: 2 + 3,
      // Two lines; one was corrected twice, which had made three rows, and removed.
      "not measured": count("not_measured") + 1,
    });
    expect(await empty.owner("not_measured")).toHaveLength(2);
    const steps = async (thing: string) => {
      const { rows } = await empty.owner.raw<{ rows: { step: string }[] }>(
        `select concat_ws(' | ', r.revision, r.act, p.given_name, r.reason, r.content ->> 'reason', r.content ->> 'note') as step
         from revisions r left join people p on p.school_id = r.school_id and p.person_id = r.person_id
         where r.thing = ? order by r.thing_id, r.revision`,
        [thing],
      );
      return rows.map(({ step }) => step);
    };
    expect(await steps("decision")).toEqual([
      "1 | made | Noor | First words.",
      "2 | corrected | Noor | put right | Second words.",
      "3 | corrected | Noor | Third words.",
      "4 | removed | Noor | Third words.",
      "1 | made | Noor | Untouched.",
    ]);
    expect(await steps("not measured")).toEqual([
      "1 | made | Noor | refused | one",
      "2 | corrected | Noor | put right | interrupted | two",
      "3 | corrected | Noor | interrupted | three",
      "4 | removed | Noor | wrong student | interrupted | three",
      "1 | made | Noor | refused",
    ]);
    // What stands is the last step of each, and nothing of an entry's step is lost.
    const { rows } = await empty.owner.raw<{ rows: { n: number }[] }>(
      `select count(*)::int as n from entries e join revisions r on r.school_id = e.school_id and r.thing = 'entry'
         and r.thing_id = e.entry_id and r.revision = e.revision
       where (r.content ->> 'observedAt')::timestamptz = e.observed_at and r.content -> 'entry' = e.entry
         and r.content -> 'score' = e.score and (r.content ->> 'note') is not distinct from e.note
         and r.content -> 'circumstances' = e.circumstances`,
    );
    expect(rows[0]?.n).toBe(count("entries"));
    const removed = await empty.owner("not_measured").whereNotNull("removed_at").select();
    expect(removed).toMatchObject([{ revision: 4, reason: "interrupted", note: "three" }]);
  });

  it("brings the demo of the first release up to date, with nothing lost and its goals as they were", async () => {
    const { bin } = testCluster();
    const file = fileURLToPath(new URL("../../tests/samples/first-release.backup", import.meta.url));
    await restore(empty.ownerUrl, file, bin, { replace: true });
    const before = await everything(empty.owner);
    expect(before["public.entries"]?.length).toBeGreaterThan(400);
    await migrateAt(empty.ownerUrl);
    const after = await everything(empty.owner);
    const histories = ["public.entry_revisions", "public.goal_revisions"];
    for (const [table, rows] of Object.entries(before))
      if (!table.startsWith("public.knex_") && !histories.includes(table))
        expect([table, after[table]?.length]).toEqual([table, rows.length]);
    const { rows } = await empty.owner.raw<{ rows: { title: string; said: string }[] }>(
      `select g.title, r.content -> 'setUp' ->> 'wording' as said from goals g join revisions r
       on r.school_id = g.school_id and r.thing = 'goal' and r.thing_id = g.goal_id
       where g.wording <> r.content -> 'setUp' ->> 'wording' or r.act <> 'made'`,
    );
    expect(rows).toEqual([]);
    expect(await countsOf(empty.owner)).toEqual({
      entry: before["public.entry_revisions"]?.length,
      goal: before["public.goals"]?.length,
    });
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
