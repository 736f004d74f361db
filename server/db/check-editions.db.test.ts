import { createHash } from "node:crypto";
import { spawn } from "node:child_process";
import { afterAll, beforeAll, expect, it } from "vitest";
import { checkEditions, removeOldEditions } from "./check-editions.ts";
import { readEditionYears, saveEditionYears } from "./audiences.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
});
afterAll(() => db.close());

const run = (...args: string[]) =>
  new Promise<{ code: number | null; said: string }>((resolve) => {
    const child = spawn(process.execPath, ["--import", "tsx", "cli/editions.ts", ...args], {
      env: { ...process.env, OWNER_DATABASE_URL: db.ownerUrl },
    });
    let said = "";
    for (const stream of [child.stdout, child.stderr])
      stream.on("data", (chunk: Buffer) => (said += chunk.toString()));
    child.once("exit", (code) => resolve({ code, said }));
  });

it("every edition of the demo is as it was frozen, and the command says so", async () => {
  const { checked, wrong } = await checkEditions(db.owner);
  expect([checked, wrong]).toEqual([28, []]);
  expect(await run()).toEqual({ code: 0, said: "Checked 28 editions; 28 are as they were frozen.\n" });
});

it("one that is not is named, with its number and why", async () => {
  const wren = demo.student("Wren");
  const where = { student_id: wren, number: 1 };
  const [before] = await db
    .owner<{ edition_id: string; content: string; student_id: string; number: number }>("editions")
    .where(where);
  // The table itself refuses content without its hash; a disk that loses a bit is asked nothing.
  const { rows } = await db.owner.raw<{ rows: { conname: string }[] }>(
    "select conname from pg_constraint where conrelid = 'editions'::regclass and pg_get_constraintdef(oid) like '%sha256(convert_to%'",
  );
  for (const { conname } of rows) await db.owner.raw("alter table editions drop constraint ??", [conname]);
  await db
    .owner("editions")
    .where(where)
    .update({ content: before?.content.replace("Wren", "Wron") });
  const { code, said } = await run();
  expect(code).toBe(1);
  expect(said).toContain(
    `Edition 1 of student ${wren} (${before?.edition_id ?? ""}): its content does not have its SHA-256.`,
  );
  expect(said).toContain("Checked 28 editions; 27 are as they were frozen.");
  await db.owner("editions").where(where).update({ content: before?.content });
  // A picture that an edition shows is looked at too.
  const { rows: shown } = await db.owner.raw<{ rows: { picture_id: string }[] }>(
    "select picture_id from pictures p where exists (select 1 from editions e where position(p.picture_id::text in e.content) > 0)",
  );
  expect(shown.length).toBeGreaterThan(0);
  // Another picture under its number is found by the hash that was frozen with it.
  const other = Buffer.from("another picture");
  await db
    .owner("pictures")
    .where({ picture_id: shown[0]?.picture_id })
    .update({ content: other, sha256: createHash("sha256").update(other).digest("hex") });
  expect((await checkEditions(db.owner)).wrong.map(({ why }) => why)).toContain(
    "a picture of it is another one",
  );
  await db.owner("pictures").where({ picture_id: shown[0]?.picture_id }).delete();
  expect((await checkEditions(db.owner)).wrong.map(({ why }) => why)).toContain(
    "a picture of it is not there",
  );
});

it("older ones than the school keeps are removed by the command alone, and nothing else is", async () => {
  const asNoor = <T>(work: Parameters<typeof inScope<T>>[3]) =>
    inScope(db.app, demo.person("noor"), null, work);
  expect(await asNoor(readEditionYears)).toBeNull();
  expect(await removeOldEditions(db.owner)).toBe(0);
  await asNoor((scope) => saveEditionYears(scope, 5));
  expect(await removeOldEditions(db.owner)).toBe(0);
  await db.owner.raw("update editions set made_on = made_on - interval '6 years' where number = 1");
  await db.owner.raw(
    "update editions e set replaces = r.edition_id from editions r where r.student_id = e.student_id and r.number = 1 and e.number = 2",
  );
  expect(await removeOldEditions(db.owner)).toBe(14);
  const { rows } = await db.owner.raw<{ rows: { number: number; replaces: string | null }[] }>(
    "select number, replaces from editions",
  );
  expect(new Set(rows.map(({ number, replaces }) => `${number} ${replaces ?? ""}`))).toEqual(new Set(["2 "]));
});
