import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openThrowaway } from "#tests/database.ts";
import { content, type DemoIds, demoIds, draft, inScope } from "#tests/demo-school.ts";
import type { GoalSummary } from "#core/progress/goal-figures.ts";
import { changeEntryState, correctEntry, type NewEntry, saveEntry } from "./entries.ts";
import { findEntry, listEntries } from "./entry-lists.ts";
import { listRevisions } from "./revisions.ts";
import type { PersonActor } from "../access/actor.ts";
import { rebuildSummaries } from "./summaries.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: PersonActor;
let ids: { studentId: string; goalId: string };

beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  noor = demo.person("noor");
  ids = { studentId: demo.student("Elowen"), goalId: demo.goal("Elowen", "1") };
});
afterAll(() => db.close());

const save = (entry: NewEntry, person = noor) =>
  inScope(db.app, person, entry.studentId, (scope) => saveEntry(scope, entry, entry));
const read = (entryId: string) =>
  inScope(db.app, noor, ids.studentId, (scope) => findEntry(scope, ids.studentId, entryId));
const revisionsOf = (entryId: string) =>
  inScope(db.app, noor, ids.studentId, (scope) => listRevisions(scope, "entry", entryId));
async function summaryOf(goalId: string): Promise<GoalSummary | null> {
  const [row] = await db
    .owner<{ goal_id: string; summary: GoalSummary | null }>("goal_summaries")
    .where({ goal_id: goalId })
    .select("summary");
  return row?.summary ?? null;
}

describe("saving an entry", () => {
  it("keeps the observation, its score, the school's own day and a first revision", async () => {
    const entry = draft(ids, 7, 10, { observedLocal: "2026-11-20T23:30", note: "late in the day" });
    expect(await save(entry)).toBe("saved");
    expect(await read(entry.entryId)).toMatchObject({
      on: "2026-11-20",
      time: "23:30",
      author: "N. Halloran",
      note: "late in the day",
      revision: 1,
      score: { value: 70, numerator: 7, denominator: 10 },
    });
    expect(await revisionsOf(entry.entryId)).toMatchObject([{ revision: 1, act: "made", by: "N. Halloran" }]);
  });

  it("is one entry when the same content is sent five times at once and again later", async () => {
    const entry = draft(ids);
    const before = (await summaryOf(ids.goalId))?.entries ?? 0;
    const outcomes = await Promise.all(Array.from({ length: 5 }, () => save(entry)));
    expect(outcomes.sort()).toEqual(["already", "already", "already", "already", "saved"]);
    expect(await save(entry)).toBe("already");
    expect((await summaryOf(ids.goalId))?.entries).toBe(before + 1);
  });

  it("calls the same id with other content a conflict and changes nothing", async () => {
    const entry = draft(ids, 7, 10);
    await save(entry);
    expect(await save({ ...entry, ...content(8, 10) })).toBe("conflict");
    expect(await save({ ...entry, note: "another note" })).toBe("conflict");
    expect(await read(entry.entryId)).toMatchObject({ score: { numerator: 7 }, revision: 1 });
  });

  it("calls an id that belongs to another goal a conflict", async () => {
    const entry = draft(ids);
    await save(entry);
    const elsewhere = { ...entry, studentId: demo.student("Rafi"), goalId: demo.goal("Rafi", "1") };
    expect(await save(elsewhere)).toBe("conflict");
  });

  it("takes a late retry for what it is even after the entry was corrected", async () => {
    const entry = draft(ids, 5, 10);
    await save(entry);
    await inScope(db.app, noor, ids.studentId, (scope) =>
      correctEntry(scope, { ...ids, entryId: entry.entryId }, { expectedRevision: 1, reason: null }, () =>
        content(6, 10),
      ),
    );
    expect(await save(entry)).toBe("already");
    expect(await read(entry.entryId)).toMatchObject({ score: { numerator: 6 } });
  });

  it("leaves a summary equal to its rebuild after fifty saves at once to one goal", async () => {
    const outcomes = await Promise.all(
      Array.from({ length: 50 }, (_, index) =>
        save(
          draft(ids, index % 11, 10, {
            observedLocal: `2026-10-${String(1 + (index % 28)).padStart(2, "0")}T10:15`,
          }),
        ),
      ),
    );
    expect(outcomes).toEqual(Array.from({ length: 50 }, () => "saved"));
    const kept = await summaryOf(ids.goalId);
    expect(await rebuildSummaries(db.owner)).toMatchObject({ changed: 0 });
    expect(await summaryOf(ids.goalId)).toEqual(kept);
  });

  it("refuses a goal of another student, and whoever may only read", async () => {
    await expect(save({ ...draft(ids), studentId: demo.student("Wren") })).rejects.toMatchObject({
      name: "NotFound",
    });
    const caspian = { studentId: demo.student("Caspian"), goalId: demo.goal("Caspian", "1") };
    await expect(save(draft(caspian), demo.person("hana"))).rejects.toMatchObject({ name: "Refused" });
  });
});

describe("correcting and removing", () => {
  const correct = (entryId: string, expectedRevision: number, to: number, person = noor) =>
    inScope(db.app, person, ids.studentId, (scope) =>
      correctEntry(scope, { ...ids, entryId }, { expectedRevision, reason: "miscounted" }, () =>
        content(to, 10),
      ),
    );
  const change = (entryId: string, expectedRevision: number, state: "kept" | "removed") =>
    inScope(db.app, noor, ids.studentId, (scope) =>
      changeEntryState(scope, { ...ids, entryId }, { expectedRevision, reason: null }, state),
    );

  it("shows a corrected entry once, with the earlier version in its history", async () => {
    const entry = draft(ids, 7, 10);
    await save(entry);
    expect(await correct(entry.entryId, 1, 8)).toBe("saved");
    const shown = await inScope(db.app, noor, ids.studentId, (scope) =>
      listEntries(scope, ids.studentId, { limit: 500 }),
    );
    expect(shown.filter((one) => one.entryId === entry.entryId)).toMatchObject([
      { score: { numerator: 8 }, revision: 2 },
    ]);
    expect(
      (await revisionsOf(entry.entryId)).map(({ act, content, reason }) => [
        act,
        content.score.numerator,
        reason,
      ]),
    ).toEqual([
      ["made", 7, null],
      ["corrected", 8, "miscounted"],
    ]);
  });

  it("takes a correction sent twice for one, and one made against an older version for a conflict", async () => {
    const entry = draft(ids, 7, 10);
    await save(entry);
    await correct(entry.entryId, 1, 8);
    expect(await correct(entry.entryId, 1, 8)).toBe("already");
    expect(await correct(entry.entryId, 1, 9)).toBe("conflict");
    expect((await revisionsOf(entry.entryId)).length).toBe(2);
  });

  it("takes a removed entry out of the figures and the report, and puts it back", async () => {
    // The last of all, whenever the demo's own last one was.
    const last = (await summaryOf(ids.goalId))?.last?.date;
    const entry = draft(ids, 10, 10, { observedLocal: `${last}T23:58` });
    await save(entry);
    expect((await summaryOf(ids.goalId))?.last?.entryId).toBe(entry.entryId);
    expect(await change(entry.entryId, 1, "removed")).toBe("saved");
    expect((await summaryOf(ids.goalId))?.last?.entryId).not.toBe(entry.entryId);
    expect(await correct(entry.entryId, 2, 3)).toBe("conflict");
    expect(await change(entry.entryId, 1, "removed")).toBe("already");
    expect(await change(entry.entryId, 2, "kept")).toBe("saved");
    expect((await summaryOf(ids.goalId))?.last?.entryId).toBe(entry.entryId);
    expect((await revisionsOf(entry.entryId)).map(({ act }) => act)).toEqual(["made", "removed", "restored"]);
    expect(await rebuildSummaries(db.owner)).toMatchObject({ changed: 0 });
  });

  it("is for the author and the lead, not for others who record", async () => {
    const entry = draft(ids, 7, 10);
    await save(entry, demo.person("mirela"));
    await db
      .owner("circle")
      .insert({
        school_id: demo.schoolId,
        student_id: ids.studentId,
        person_id: demo.person("teo").personId,
        part: "record",
      })
      .onConflict()
      .ignore();
    await expect(correct(entry.entryId, 1, 8, demo.person("teo"))).rejects.toMatchObject({
      name: "Refused",
    });
    expect(await correct(entry.entryId, 1, 8, demo.person("mirela"))).toBe("saved");
    expect(await correct(entry.entryId, 2, 9, noor)).toBe("saved");
  });
});

describe("the second lock", () => {
  it("shows nothing outside a school, and nothing of another school inside one", async () => {
    expect(await db.app("students").count({ n: "*" }).first()).toMatchObject({ n: "0" });
    // A school is entered by a session and by nothing that is named.
    const stranger = { ...noor, session: Buffer.alloc(32) };
    await expect(inScope(db.app, stranger, ids.studentId, () => Promise.resolve())).rejects.toMatchObject({
      name: "SessionOver",
    });
    const elsewhere = { ...noor, schoolId: "019a0000-0000-7000-8000-000000000001" };
    const schools = await inScope(db.app, elsewhere, null, ({ trx }) => trx("schools").pluck("school_id"));
    expect(schools).toEqual([demo.schoolId]);
  });

  it("keeps the application from writing into another school, from owning tables and from reading passwords", async () => {
    const other = "019a0000-0000-7000-8000-000000000002";
    await db.owner("schools").insert({ school_id: other, name: "Other", time_zone: "UTC" });
    await expect(
      inScope(db.app, noor, null, ({ trx }) =>
        trx("people").insert({
          school_id: other,
          person_id: other,
          given_name: "A",
          family_name: "B",
          role: "staff",
        }),
      ),
    ).rejects.toMatchObject({ code: "42501" });
    for (const statement of [
      "select * from gate.accounts",
      "select * from gate.sessions",
      "alter table entries disable row level security",
      "delete from entries",
      "update revisions set reason = 'x'",
    ]) {
      await expect(db.app.raw(statement)).rejects.toMatchObject({ code: "42501" });
    }
    const owned = await db.owner.raw<{ rows: { n: string }[] }>(
      "select count(*) as n from pg_tables where tableowner = 'gentle_margin_app'",
    );
    expect(owned.rows[0]?.n).toBe("0");
  });

  it("covers every table with a school_id, which leads its primary key", async () => {
    const { rows } = await db.owner.raw<{ rows: { table: string; locked: boolean; leads: boolean }[] }>(`
      select c.relname as table, c.relrowsecurity as locked,
        (select a.attname = 'school_id' from pg_index i join pg_attribute a on a.attrelid = c.oid and a.attnum = i.indkey[0]
         where i.indrelid = c.oid and i.indisprimary) as leads
      from pg_class c join pg_namespace n on n.oid = c.relnamespace and n.nspname = 'public'
      where c.relkind = 'r' and exists (select 1 from pg_attribute a where a.attrelid = c.oid and a.attname = 'school_id')`);
    expect(rows.length).toBeGreaterThan(9);
    expect(rows.filter((row) => !row.locked || !row.leads)).toEqual([]);
  });
});
