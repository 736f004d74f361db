import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import { keyIn } from "./app-key.ts";
import { sealAudit, sealKeyOf, verifyAudit } from "./audit-seals.ts";
import { recordEvent } from "./events.ts";
import { withScope } from "./school.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let key: Buffer;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  key = sealKeyOf(keyIn(db.app));
});
afterAll(() => db.close());

const seal = () =>
  withScope(db.app, { kind: "job", schoolId: demo.schoolId, name: "seal" }, null, (scope) =>
    sealAudit(scope, key),
  );
const sealEverything = async () => {
  let sum = 0;
  for (let count = await seal(); count > 0; count = await seal()) sum += count;
  return sum;
};
const record = (key: "noor" | "teo" | "ines" | "mirela", studentId: string) =>
  inScope(db.app, demo.person(key), studentId, (scope) =>
    recordEvent(scope, { thing: "student", act: "changed", thingId: studentId, studentId }),
  );
const verify = (known: Parameters<typeof verifyAudit>[2] = []) => verifyAudit(db.owner, key, known);
const faults = async () => (await verify()).faults.map(({ fault }) => fault);

describe("the chain of the audit", () => {
  it("holds 10,000 events that several wrote at once, sealed meanwhile by two processes", async () => {
    const wren = demo.student("Wren");
    const before = Number((await db.owner("audit").count({ n: "*" }))[0]?.["n"]);
    let written = 0;
    const writers = (["noor", "teo", "ines", "mirela"] as const).map(async (who) => {
      while (written < 1000) {
        written += 1;
        await record(who, wren);
      }
    });
    // The rest as a night's import writes them: many in one statement, beside the others.
    const many = db.owner.raw(
      `insert into audit (school_id, person_id, act, thing, student_id, at)
       select ?, ?, 'changed', 'student', ?, clock_now() from generate_series(1, 9000)`,
      [demo.schoolId, demo.person("noor").personId, wren],
    );
    let isDone = false;
    const sealers = [1, 2].map(async () => {
      while (!isDone) await seal();
    });
    await Promise.all([...writers, many]);
    isDone = true;
    await Promise.all(sealers);
    await sealEverything();
    const { checked, faults: found, heads } = await verify();
    expect(found).toEqual([]);
    expect(checked).toBe(before + written + 9000);
    expect(heads).toEqual([
      { schoolId: demo.schoolId, place: checked, seal: expect.stringMatching(/^[0-9a-f]{16}$/) as string },
    ]);
  }, 120_000);

  describe("shows what its owner changed", () => {
    const places = async (place: number) => {
      const row = await db
        .owner("audit_seals")
        .where({ school_id: demo.schoolId, place: String(place) })
        .first();
      if (!row) throw new Error("there is no such place");
      return row;
    };
    beforeEach(async () => {
      await sealEverything();
      expect(await faults()).toEqual([]);
    });

    it("in an event", async () => {
      const { audit_id } = await places(40);
      const row = await db.owner("audit").where({ audit_id }).first();
      await db.owner("audit").where({ audit_id }).update({ act: "restored" });
      expect(await verify()).toMatchObject({ faults: [{ place: 40, auditId: audit_id, fault: "changed" }] });
      await db
        .owner("audit")
        .where({ audit_id })
        .update({ act: row?.act ?? "" });
    });

    it("by an event that is gone, also with its seal", async () => {
      const taken = await places(50);
      await db.owner.raw("create table taken_out as select * from audit where audit_id = ?", [
        taken.audit_id,
      ]);
      await db.owner("audit").where({ audit_id: taken.audit_id }).delete();
      expect(await faults()).toEqual(["removed"]);
      await db.owner("audit_seals").where({ school_id: demo.schoolId, place: "50" }).delete();
      expect(await faults()).toEqual(["missing in the chain"]);
      await db.owner.raw("insert into audit overriding system value select * from taken_out");
      await db.owner.raw("drop table taken_out");
      await db.owner("audit_seals").insert(taken);
    });

    it("by an event that was put in, and by an end that was cut off", async () => {
      const { heads } = await verify();
      await db.owner.raw(
        `insert into audit (school_id, person_id, act, thing, student_id, at)
         values (?, ?, 'changed', 'student', ?, clock_now() - interval '3 days')`,
        [demo.schoolId, demo.person("noor").personId, demo.student("Wren")],
      );
      expect(await faults()).toEqual(["not sealed"]);
      await sealEverything();
      expect(await faults()).toEqual([]);
      const [head] = heads;
      const last = head?.place ?? 0;
      const tail = await db.owner("audit_seals").where("place", ">=", last).select("audit_id");
      await db.owner("audit_seals").where("place", ">=", last).delete();
      await db
        .owner("audit")
        .whereIn(
          "audit_id",
          tail.map(({ audit_id }) => audit_id),
        )
        .delete();
      // The chain alone looks whole; with the head that was kept elsewhere it does not.
      expect((await verify()).faults).toEqual([]);
      expect((await verify(heads)).faults).toMatchObject([{ fault: "cut off", place: last }]);
    });

    it("and a seal that was made without the application's key", async () => {
      const { place } = (await verify()).heads[0] ?? { place: 0 };
      await db
        .owner("audit_seals")
        .where({ place: String(place) })
        .update({ seal: Buffer.alloc(32, 7) });
      expect(await faults()).toEqual(["changed"]);
    });
  });

  it("is only added to by the application", async () => {
    const { rows } = await db.owner.raw<{ rows: { grants: string[] }[] }>(
      `select array_agg(distinct table_name || ' ' || privilege_type order by table_name || ' ' || privilege_type) as grants
       from information_schema.role_table_grants where grantee = 'gentle_margin_app' and table_name in ('audit', 'audit_seals')`,
    );
    expect(rows[0]?.grants).toEqual([
      "audit INSERT",
      "audit SELECT",
      "audit_seals INSERT",
      "audit_seals SELECT",
    ]);
    const asNoor = inScope(db.app, demo.person("noor"), null, ({ trx }) => trx("audit_seals").select());
    expect(await asNoor).toEqual([]);
  });
});
