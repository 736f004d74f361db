import { mkdirSync, mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openThrowaway, testCluster } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import type { RecordKind } from "#core/retention/record-kinds.ts";
import { keyIn } from "../db/app-key.ts";
import { backUpInto, bringBack } from "../db/backups.ts";
import { sealAudit, sealKeyOf, verifyAudit } from "../db/audit-seals.ts";
import {
  cancelErasure,
  endHold,
  listErasures,
  planErasure,
  readErasingState,
  saveRetention,
  setHold,
} from "../db/retention.ts";
import { addParentStatement, endRightsRequest, noteRightsRequest } from "../db/rights.ts";
import { withScope } from "../db/school.ts";
import { eraseDue } from "./erase.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let today: string;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  today = await inScope(db.app, demo.person("noor"), null, (scope) => Promise.resolve(scope.today));
});
afterAll(() => db.close());

const asAdministrator = <T>(studentId: string | null, work: Parameters<typeof inScope<T>>[3]) =>
  inScope(db.app, demo.person("desmond"), studentId, work);
const asNoor = <T>(studentId: string | null, work: Parameters<typeof inScope<T>>[3]) =>
  inScope(db.app, demo.person("noor"), studentId, work);

const later = (days: number) => new Date(Date.parse(today) + days * 86_400_000).toISOString().slice(0, 10);
const leave = (studentId: string, on: string | null) =>
  db.owner("students").where({ student_id: studentId }).update({ left_on: on });
const plan = (
  studentId: string,
  kinds: RecordKind[],
  more: Partial<Parameters<typeof planErasure>[1]> = {},
) =>
  asAdministrator(studentId, (scope) =>
    planErasure(scope, {
      ...{ erasureId: newId(), studentId, kinds, keepsName: false, why: "parents asked" },
      ...{ toldOn: today, toldHow: "letter", toldWhom: "both parents", plannedOn: later(7), ...more },
    }),
  );
/** As if the days had gone by. */
const comesDue = (studentId: string) =>
  db.owner.raw(
    "update erasures set made_at = made_at - interval '30 days', planned_on = planned_on - 30 where student_id = ? and done_at is null",
    [studentId],
  );

interface Holder {
  table: string;
  count: number;
}
/** In which tables, of the school, the gate and the queue, a row says one of these. */
async function whoHolds(words: readonly string[]): Promise<Holder[]> {
  const { rows: tables } = await db.owner.raw<{ rows: { table: string }[] }>(
    `select format('%I.%I', n.nspname, c.relname) as table from pg_class c join pg_namespace n on n.oid = c.relnamespace
     where c.relkind in ('r', 'p') and not c.relispartition and n.nspname in ('public', 'gate', 'jobs') order by 1`,
  );
  const found: Holder[] = [];
  for (const { table } of tables) {
    const { rows } = await db.owner.raw<{ rows: { count: number }[] }>(
      `select count(*)::int as count from ${table} t where ${words.map(() => "position(? in t::text) > 0").join(" or ")}`,
      [...words],
    );
    if ((rows[0]?.count ?? 0) > 0)
      found.push({ table: table.replace("public.", ""), count: rows[0]?.count ?? 0 });
  }
  return found;
}

describe("the list of what is a student's", () => {
  it("names every table with a student in it, and only tables that are there; the others hold nothing of a student", async () => {
    const { rows } = await db.owner.raw<{ rows: { table: string; listed: boolean; student: boolean }[] }>(
      `select case n.nspname when 'gate' then 'gate.' else '' end || c.relname as table,
         exists (select 1 from gate.record_rows r where r.of_table = case n.nspname when 'gate' then 'gate.' else '' end || c.relname) as listed,
         exists (select 1 from pg_attribute a where a.attrelid = c.oid and a.attnum > 0 and not a.attisdropped
           and a.attname in ('student_id', 'goal_id', 'guardian_id', 'to_guardian_id')) as student
       from pg_class c join pg_namespace n on n.oid = c.relnamespace
       where c.relkind = 'r' and n.nspname in ('public', 'gate')`,
    );
    // What stays, and says so: the student's own row without a name, what happened, and that it was erased.
    const stay = ["audit", "audit_changes", "erasures", "students"];
    expect(
      rows
        .filter((one) => one.student && !one.listed)
        .map(({ table }) => table)
        .sort(),
    ).toEqual(stay);
    const { rows: gone } = await db.owner.raw<{ rows: { of_table: string }[] }>(
      "select of_table from gate.record_rows where to_regclass(case when of_table like 'gate.%' then of_table else 'public.' || of_table end) is null",
    );
    expect(gone).toEqual([]);
  });
});

describe("what stands against erasing", () => {
  it("is that the student is at the school, a hold and an open request; each again at the time it is done", async () => {
    const rafi = demo.student("Rafi");
    await expect(plan(rafi, ["record"])).rejects.toMatchObject({ name: "Invalid" });
    await leave(rafi, "2026-06-12");
    const holdId = newId();
    await asNoor(rafi, (scope) => setHold(scope, rafi, { holdId, reason: "Due process" }));
    await expect(plan(rafi, ["record"])).rejects.toMatchObject({ name: "Invalid" });
    expect(await asAdministrator(rafi, (scope) => readErasingState(scope, rafi))).toMatchObject({
      against: ["on hold"],
    });
    await asAdministrator(rafi, (scope) => endHold(scope, rafi, holdId));
    await plan(rafi, ["record"]);
    await comesDue(rafi);
    const requestId = newId();
    await asNoor(rafi, (scope) =>
      noteRightsRequest(scope, {
        ...{ requestId, studentId: rafi, kind: "inspect", byWhom: "Mother", words: "", receivedOn: today },
      }),
    );
    expect(await eraseDue(db.app)).toBe(0);
    await asNoor(rafi, (scope) =>
      endRightsRequest(scope, rafi, { requestId, outcome: "inspected", words: null }),
    );
    await leave(rafi, null);
    expect(await eraseDue(db.app)).toBe(0);
    expect(await db.owner("entries").where({ student_id: rafi })).not.toHaveLength(0);
    const [open] = await asAdministrator(rafi, (scope) => listErasures(scope, rafi));
    await asAdministrator(rafi, (scope) => cancelErasure(scope, rafi, open?.erasureId ?? ""));
    expect(await asAdministrator(rafi, (scope) => listErasures(scope, rafi))).toMatchObject([
      { state: "cancelled" },
    ]);
  });

  it("is that the school's own rules ask for longer, unless the parents asked; and that nobody could cancel it", async () => {
    const theo = demo.student("Rafi");
    await leave(theo, later(-400));
    await asAdministrator(null, (scope) =>
      saveRetention(scope, {
        jots: { years: 1, source: "District rule 7" },
        record: { years: 5, source: "State" },
      }),
    );
    const kept = { why: "years are over" as const };
    await expect(plan(theo, ["record"], kept)).rejects.toMatchObject({
      problems: { why: expect.any(String) as string },
    });
    await expect(plan(theo, ["incidents"], kept)).rejects.toMatchObject({ name: "Invalid" });
    await expect(plan(theo, ["jots"], { plannedOn: later(3) })).rejects.toMatchObject({
      problems: { plannedOn: expect.any(String) as string },
    });
    await plan(theo, ["jots"], kept);
    // Nobody writes one past the days either: not by SQL of the application.
    await expect(
      asAdministrator(null, ({ trx, schoolId, actor }) =>
        trx("erasures").insert({
          ...{
            school_id: schoolId,
            erasure_id: newId(),
            student_id: demo.student("Wren"),
            kinds: ["record"],
          },
          ...{ keeps_name: false, why: "parents asked", told_on: today, told_how: "letter", told_whom: "x" },
          ...{ planned_on: today, person_id: actor.personId },
        }),
      ),
    ).rejects.toMatchObject({ name: "Invalid" });
    await expect(
      asAdministrator(null, ({ trx }) => trx.raw("select gate.erase_planned(?)", [theo])),
    ).rejects.toMatchObject({ code: "42501" });
    await leave(theo, null);
    await db.owner("erasures").where({ student_id: theo }).update({ cancelled_at: new Date() });
  });

  it("lets nobody but an administrator plan it", async () => {
    const wren = demo.student("Wren");
    await expect(asNoor(wren, (scope) => cancelErasure(scope, wren, newId()))).rejects.toMatchObject({
      name: "Refused",
    });
  });
});

describe("kinds of a record", () => {
  it("go alone: the figures are made anew without the observations, incidents stay", async () => {
    const priya = demo.student("Priya");
    const incidents = (await db.owner("incidents").where({ student_id: priya })).length;
    const others = Number(
      (await db.owner("entries").whereNot({ student_id: priya }).count({ n: "*" }))[0]?.["n"],
    );
    expect(await db.owner("entries").where({ student_id: priya })).not.toHaveLength(0);
    await leave(priya, "2026-06-12");
    await plan(priya, ["observations"]);
    await comesDue(priya);
    expect(await eraseDue(db.app)).toBe(1);
    for (const table of ["entries", "not_measured", "tallies", "second_observations"])
      expect([table, await db.owner(table).where({ student_id: priya })]).toEqual([table, []]);
    const { rows: steps } = await db.owner.raw<{ rows: unknown[] }>(
      "select 1 from revisions r where r.thing = 'entry' and not exists (select 1 from entries e where e.entry_id = r.thing_id)",
    );
    expect(steps).toEqual([]);
    expect(await db.owner("incidents").where({ student_id: priya })).toHaveLength(incidents);
    expect(await db.owner("goals").where({ student_id: priya })).not.toHaveLength(0);
    const summaries = await db.owner("goal_summaries").where({ student_id: priya });
    expect(JSON.stringify(summaries)).not.toMatch(/"lastOn":"20/);
    expect(
      Number((await db.owner("entries").whereNot({ student_id: priya }).count({ n: "*" }))[0]?.["n"]),
    ).toBe(others);
    expect(await eraseDue(db.app)).toBe(0);
    // The rest can be erased later.
    await plan(priya, ["record"], { keepsName: true });
    await comesDue(priya);
    expect(await eraseDue(db.app)).toBe(1);
    expect(await db.owner("students").where({ student_id: priya })).toMatchObject([
      { given_name: "Priya", born_on: null, alias: null, source_id: null },
    ]);
    expect(await db.owner("goals").where({ student_id: priya })).toEqual([]);
  });
});

describe("a whole record", () => {
  it("is gone from every table of the school, the gate and the queue; what stays is that it was erased, by ids; others lose nothing", async () => {
    const wren = demo.student("Wren");
    await db
      .owner("students")
      .where({ student_id: wren })
      .update({
        ...{
          given_name: "Zephyrine",
          family_name: "Quillfeather",
          preferred_name: "Zeph",
          born_on: "2015-02-01",
        },
        source_id: "sis-zq-1",
      });
    const guardians = await db
      .owner("guardians")
      .where({ student_id: wren })
      .select<{ guardian_id: string; name: string; email: string | null }[]>("guardian_id", "name", "email");
    expect(guardians.length).toBeGreaterThan(0);
    const goals: string[] = await db.owner("goals").where({ student_id: wren }).pluck("goal_id");
    const entries: string[] = await db
      .owner("entries")
      .where({ student_id: wren })
      .limit(5)
      .pluck("entry_id");
    const incidents: string[] = await db
      .owner("incidents")
      .where({ student_id: wren })
      .limit(5)
      .pluck("incident_id");
    await asNoor(wren, (scope) =>
      addParentStatement(scope, wren, {
        ...{ statementId: newId(), part: "goal", goalId: goals[0] ?? "", byWhom: "Father" },
        ...{ words: "We see it otherwise: Zephyrine reads at home.", receivedOn: today },
      }),
    );
    await db.owner.raw("insert into jobs.job (name, data) values ('mail', ?)", [
      JSON.stringify({ schoolId: demo.schoolId, guardianId: guardians[0]?.guardian_id }),
    ]);
    const [account] = await db.owner
      .withSchema("gate")
      .into("accounts")
      .insert({ account_id: newId(), email: "zeph.parent@example.org", password_hash: "x" })
      .returning<{ account_id: string }[]>("account_id");
    await db.owner.withSchema("gate").into("family_accounts").insert({
      account_id: account?.account_id,
      school_id: demo.schoolId,
      guardian_id: guardians[0]?.guardian_id,
    });
    const names = ["Zephyrine", "Quillfeather", "sis-zq-1", "zeph.parent@example.org"];
    const words = [
      ...names,
      wren,
      ...goals,
      ...entries,
      ...incidents,
      ...guardians.flatMap(({ guardian_id, name, email }) => [guardian_id, name, email ?? []].flat()),
    ];
    const before = await whoHolds(words);
    expect(before.length).toBeGreaterThan(25);
    const counts = async (whose: "=" | "<>") =>
      Object.fromEntries(
        await Promise.all(
          ["entries", "incidents", "jots", "goals", "editions", "messages", "circle", "guardians"].map(
            async (table) =>
              [
                table,
                Number((await db.owner(table).where("student_id", whose, wren).count({ n: "*" }))[0]?.["n"]),
              ] as const,
          ),
        ),
      );
    const others = await counts("<>");
    await leave(wren, "2026-06-12");
    await plan(wren, ["record"]);
    await comesDue(wren);
    const folder = mkdtempSync(join(tmpdir(), "gentle-margin-erased-"));
    const pictures: { sha256: string }[] = await db
      .owner("pictures")
      .where({ student_id: wren })
      .select("sha256");
    for (const { sha256 } of [...pictures, { sha256: "ff".repeat(32) }]) {
      mkdirSync(join(folder, demo.schoolId, sha256.slice(0, 2)), { recursive: true });
      writeFileSync(join(folder, demo.schoolId, sha256.slice(0, 2), `${sha256}.jpg`), "x");
    }
    process.env["PICTURES_FOLDER"] = folder;
    try {
      expect(await eraseDue(db.app)).toBe(1);
    } finally {
      delete process.env["PICTURES_FOLDER"];
    }
    const files = readdirSync(folder, { recursive: true })
      .map(String)
      .filter((name) => name.endsWith(".jpg"));
    expect(pictures.length).toBeGreaterThan(0);
    expect(files).toEqual([expect.stringContaining("ff".repeat(32))]);
    rmSync(folder, { recursive: true });

    expect((await whoHolds(names)).map(({ table }) => table)).toEqual([]);
    expect((await whoHolds(words)).map(({ table }) => table)).toEqual([
      "audit",
      "audit_changes",
      "erasures",
      "students",
    ]);
    expect(await db.owner("students").where({ student_id: wren })).toMatchObject([
      { given_name: "—", family_name: "", initials: "—", born_on: null, grade: "" },
    ]);
    expect(await db.owner("audit_changes").where({ student_id: wren }).whereNotNull("changes")).toEqual([]);
    expect(await counts("<>")).toEqual(others);
    expect(Object.values(await counts("="))).toEqual([0, 0, 0, 0, 0, 0, 0, 0]);
    expect(await db.owner("erasures").where({ student_id: wren })).toMatchObject([
      { told_how: "letter", told_whom: "both parents", erased: { goals: goals.length } },
    ]);
    // Nobody finds the student any more: not who led the circle, and not in a list of those who left.
    expect(await db.owner("circle").where({ student_id: wren })).toEqual([]);
  });

  it("leaves the chain of events whole, and finds a change that was cleared without an erasing", async () => {
    const key = sealKeyOf(keyIn(db.app));
    const seal = () =>
      withScope(db.app, { kind: "job", schoolId: demo.schoolId, name: "seal" }, null, (scope) =>
        sealAudit(scope, key),
      );
    while ((await seal()) > 0);
    expect((await verifyAudit(db.owner, key)).faults).toEqual([]);
    const rafi = demo.student("Rafi");
    const cleared = await db.owner("audit_changes").where({ student_id: rafi }).update({ changes: null });
    expect(cleared).toBeGreaterThan(0);
    expect((await verifyAudit(db.owner, key)).faults.map(({ fault }) => fault)).toEqual(
      Array.from({ length: cleared }).map(() => "changed"),
    );
  });
});

it("is erased again where a backup from before is put back: from the database it replaces, or from the file beside the backups", async () => {
  const { bin } = testCluster();
  const folder = mkdtempSync(join(tmpdir(), "gentle-margin-backups-"));
  const school = await openThrowaway("demo");
  const other = await openThrowaway("empty");
  try {
    const ids = await demoIds(school.owner);
    const rafi = ids.student("Rafi");
    const before = await backUpInto(
      { ownerUrl: school.ownerUrl, bin, folder },
      new Date("2026-11-01T08:40:00Z"),
    );
    await school.owner("students").where({ student_id: rafi }).update({ left_on: "2026-06-12" });
    await inScope(school.app, ids.person("desmond"), rafi, (scope) =>
      planErasure(scope, {
        ...{ erasureId: newId(), studentId: rafi, kinds: ["record"], keepsName: false, why: "parents asked" },
        ...{ toldOn: today, toldHow: "letter", toldWhom: "both parents", plannedOn: later(7) },
      }),
    );
    await school.owner.raw(
      "update erasures set made_at = made_at - interval '30 days', planned_on = planned_on - 30",
    );
    expect(await eraseDue(school.app)).toBe(1);
    const isGone = async (database: typeof school) => {
      expect(await database.owner("goals").where({ student_id: rafi })).toEqual([]);
      expect(await database.owner("students").where({ student_id: rafi })).toMatchObject([
        { given_name: "—" },
      ]);
      expect(
        await database.owner("audit").where({ thing: "erasure", act: "done", student_id: rafi }),
      ).toHaveLength(1);
      expect((await database.owner("goals").whereNot({ student_id: rafi })).length).toBeGreaterThan(0);
    };
    expect(await bringBack({ ownerUrl: school.ownerUrl, bin }, before, { replace: true })).toEqual({
      erased: 1,
    });
    await isGone(school);
    // On another machine nothing is known but what lies beside the backups since the next one.
    await backUpInto({ ownerUrl: school.ownerUrl, bin, folder }, new Date("2026-11-02T08:40:00Z"));
    expect(await bringBack({ ownerUrl: other.ownerUrl, bin }, before, { replace: true })).toEqual({
      erased: 1,
    });
    await isGone(other);
    // What is in the file names nobody.
    expect(readFileSync(join(folder, "erased.json"), "utf8")).not.toContain("Rafi");
  } finally {
    rmSync(folder, { recursive: true });
    await Promise.all([school.close(), other.close()]);
  }
});
