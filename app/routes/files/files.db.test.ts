import { createHash } from "node:crypto";
import { join } from "node:path";
import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { forgetDisclosed } from "#server/db/disclosures.ts";
import { openPrinter, type Printer } from "#server/exports/printer.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { type Caller, caller, leadsTo, problemsOf } from "#tests/route.ts";
import * as making from "../editions/new-edition.tsx";
import * as file from "./file.ts";
import * as files from "./files.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
let printer: Printer;
const assets = join(import.meta.dirname, "../../../build/client/assets");
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  printer = openPrinter();
  noor = await caller(db.app, "noor", { printer, assets });
});
afterAll(async () => {
  await printer.stop();
  await db.close();
});

const about = (given: string) => ({ studentId: demo.student(given) });
const asked = (format: string, more: Record<string, string> = {}) => ({
  ...{ disclosureId: newId(), format, recipient: "Rosa Abara", kept: "yes", ...more },
});
async function make(given: string, form: Record<string, string>, search = "") {
  const to = await leadsTo(noor.send(files.action, form, about(given), search));
  expect(to).toContain(`made=${form["disclosureId"] ?? "?"}`);
  return { ...about(given), disclosureId: form["disclosureId"] ?? "" };
}
const bytesOf = async (params: object, who = noor) =>
  Buffer.from(await (await who.load(file.loader, params)).arrayBuffer());
const rowOf = (disclosureId: string) =>
  db.owner("disclosures").where({ disclosure_id: disclosureId }).first();
const hash = (bytes: Buffer) => createHash("sha256").update(bytes).digest("hex");

describe("a file of a report", () => {
  it("is noted with who receives it, who made it and why, and is an event of the audit", async () => {
    const form = asked("text", { reason: "the annual meeting" });
    const params = await make("Wren", form, "?for=family");
    await make("Wren", form, "?for=family");
    expect(await rowOf(params.disclosureId)).toMatchObject({
      ...{ format: "text", audience: "family", recipient: "Rosa Abara", reason: "the annual meeting" },
      person_id: demo.person("noor").personId,
    });
    expect(
      await db.owner("audit").where({ thing: "disclosure", thing_id: params.disclosureId }),
    ).toMatchObject([
      { act: "made", student_id: demo.student("Wren"), person_id: demo.person("noor").personId },
    ]);
    const { earlier, made } = await noor.load(files.loader, about("Wren"), `?made=${params.disclosureId}`);
    expect(earlier[0]).toMatchObject({ recipient: "Rosa Abara", by: "N. Halloran", format: "text" });
    expect(made?.goals.map(({ name }) => name)[0]).toBe("2b Two-digit subtraction");
    expect((await bytesOf(params)).toString()).toContain("Two-digit subtraction");
  });

  it("is of what was looked through: what is recorded afterwards is not in it", async () => {
    const params = await make("Wren", asked("text"));
    const before = await bytesOf(params);
    await db
      .owner("goals")
      .where({ goal_id: demo.goal("Wren", "2b") })
      .update({ title: "Another title" });
    expect(hash(await bytesOf(params))).toBe(hash(before));
    await db
      .owner("goals")
      .where({ goal_id: demo.goal("Wren", "2b") })
      .update({ title: "Two-digit subtraction" });
  });

  it("is fetched by who made it, for a day, and its row stays", async () => {
    const params = await make("Wren", asked("json"));
    const other = await caller(db.app, "noor");
    await db
      .owner("circle")
      .where({ student_id: params.studentId })
      .whereNot({ part: "lead" })
      .update({ part: "lead" });
    const teo = await caller(db.app, "teo", { printer, assets });
    await expect(teo.load(file.loader, params)).rejects.toMatchObject({ init: { status: 404 } });
    expect(
      (await other.load(files.loader, about("Wren"), `?made=${params.disclosureId}`)).made,
    ).not.toBeNull();
    expect(await forgetDisclosed(db.app)).toBe(0);
    await db.owner("disclosures").update({ made_at: db.owner.raw("made_at - interval '25 hours'") });
    expect(await forgetDisclosed(db.app)).toBeGreaterThan(0);
    expect(await rowOf(params.disclosureId)).toMatchObject({ content: null, recipient: "Rosa Abara" });
    await expect(noor.load(file.loader, params)).rejects.toMatchObject({ init: { status: 404 } });
    expect((await noor.load(files.loader, about("Wren"), `?made=${params.disclosureId}`)).made).toBeNull();
  });

  it("is not made without a receiver, for a full record without a reason, or over names that nobody looked at", async () => {
    const refused = async (form: Record<string, string>, search = "") =>
      (await problemsOf(await noor.send(files.action, form, about("Wren"), search))).problems;
    expect(await refused(asked("pdf", { recipient: " " }))).toMatchObject({
      recipient: "Say who receives it.",
    });
    expect(await refused(asked("exe"))).toMatchObject({ format: "Choose a kind of file." });
    expect(await refused(asked("record"))).toMatchObject({ reason: /why it leaves/ });
    expect(await refused(asked("record", { reason: "x" }), "?for=family")).toMatchObject({
      format: /running report/,
    });
    await db.owner.raw(
      `update entries set note = 'With Rafi Castellanos at the table.' where entry_id =
         (select entry_id from entries where student_id = ? and state = 'kept' limit 1)`,
      [demo.student("Wren")],
    );
    const { names } = await noor.load(files.loader, about("Wren"), "?span=all");
    expect(names.length).toBeGreaterThan(0);
    expect(await refused(asked("pdf", { kept: "" }), "?span=all")).toHaveProperty("kept");
    expect(await refused({ ...asked("pdf"), kept: "no" }, "?span=all")).toHaveProperty("kept");
  });
});

describe("the file of an edition", () => {
  it("is made once and the same from then on, byte for byte, in each format", async () => {
    const editionId = newId();
    await leadsTo(noor.send(making.action, { editionId, kept: "yes" }, about("Rafi"), "?for=family"));
    for (const format of ["pdf", "docx", "xlsx", "csv", "json", "text"]) {
      const first = await bytesOf(await make("Rafi", asked(format), `?edition=${editionId}`));
      await db
        .owner("goals")
        .where({ student_id: demo.student("Rafi") })
        .update({ title: `Changed ${format}` });
      const second = await bytesOf(await make("Rafi", asked(format), `?edition=${editionId}`));
      expect(hash(second)).toBe(hash(first));
      expect(second.toString("latin1")).not.toContain(`Changed ${format}`);
    }
    expect(await db.owner("edition_files").where({ edition_id: editionId })).toHaveLength(6);
    expect(await db.owner("disclosures").where({ edition_id: editionId }).whereNotNull("content")).toEqual(
      [],
    );
    const { what, edition, without } = await noor.load(files.loader, about("Rafi"), `?edition=${editionId}`);
    expect(what).toContain("for the family");
    expect(edition?.number).toBeGreaterThan(0);
    expect(without).toEqual({ record: expect.stringContaining("running report") as string });
  }, 120_000);
});
