import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { type Caller, caller, leadsTo, problemsOf as answerOf } from "#tests/route.ts";
import * as caseload from "../caseload/caseload.tsx";
import * as ownSettings from "../frame/own-settings.ts";
import * as frame from "../frame/frame.tsx";
import * as lists from "../school/lists.tsx";
import * as edit from "./edit-student.tsx";
import * as setUp from "./set-up.tsx";
import * as several from "./several-students.tsx";
import * as student from "./student.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
let teo: Caller;
let desmond: Caller;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  noor = await caller(db.app, "noor");
  teo = await caller(db.app, "teo");
  desmond = await caller(db.app, "desmond");
});
afterAll(() => db.close());

const problemsOf = async (answer: Promise<unknown>) => (await answerOf(answer)).problems;

/** The rows that were read of a list, by what stands in them. */
async function readRows(names: string): Promise<Record<string, string>> {
  const answer = (await noor.send(several.action, { intent: "read", names })) as {
    data: { typed: Record<string, string> };
  };
  return answer.data.typed;
}

describe("several students", () => {
  it("are read of a list, the known ones told from the new, and added once however often they are sent", async () => {
    const typed = await readRows("Ana de la Cruz, 3\nAbara, Wren\nLumi\nAna de la Cruz");
    const of = (at: number) => [typed[`row.${at}.given`], typed[`row.${at}.family`], typed[`row.${at}.is`]];
    expect([0, 1, 2, 3].map(of)).toEqual([
      ["Ana", "de la Cruz", "new"],
      ["Wren", "Abara", "known"],
      ["Lumi", "", "new"],
      ["Ana", "de la Cruz", "twice"],
    ]);
    expect(Object.keys(typed).filter((name) => name.endsWith(".add"))).toEqual(["row.0.add", "row.2.add"]);
    const before = (await noor.load(caseload.loader)).students.length;
    for (let times = 0; times < 2; times += 1)
      expect(await leadsTo(noor.send(several.action, { ...typed, intent: "add" }))).toBe("/caseload?added=2");
    const after = (await noor.load(caseload.loader)).students;
    expect(after).toHaveLength(before + 2);
    const [lumi] = await db.owner("students").where({ given_name: "Lumi", family_name: "" });
    expect(lumi).toMatchObject({ family_name: "" });
    const page = await noor.load(student.loader, { studentId: lumi?.student_id });
    expect(page.student).toMatchObject({ name: "Lumi", initials: "L.", screenName: "L." });
  });

  it("are not added without a tick or a name, nor by who may not", async () => {
    const typed = await readRows("Kit Marlow");
    const { "row.0.add": tick, ...unticked } = typed;
    expect(tick).toBe("on");
    expect(await problemsOf(noor.send(several.action, { ...unticked, intent: "add" }))).toEqual({
      form: "Tick at least one student.",
    });
    expect(
      await problemsOf(noor.send(several.action, { ...typed, "row.0.given": " ", intent: "add" })),
    ).toEqual({ "row.0.given": "What is the student called? One name is enough." });
    expect(await problemsOf(noor.send(several.action, { intent: "read", names: " \n " }))).toEqual({
      names: "Write or paste at least one name.",
    });
    const many = Array.from({ length: 201 }, (_, at) => `Child ${at} Row`).join("\n");
    expect(await problemsOf(noor.send(several.action, { intent: "read", names: many }))).toEqual({
      names: "These are 201 names; at most 200 at once.",
    });
    await expect(teo.send(several.action, { ...typed, intent: "add" })).rejects.toMatchObject({
      init: { status: 403 },
    });
    // An administrator without a caseload says whose it is.
    expect(await problemsOf(desmond.send(several.action, { ...typed, intent: "add" }))).toEqual({
      lead: "Whose caseload is it?",
    });
  });
});

describe("who may not", () => {
  it("is told who may: of a student the circle, of the school its administrators and case managers", async () => {
    const refusal = (attempt: Promise<unknown>) =>
      attempt.then(
        () => null,
        (thrown: { data?: unknown }) => thrown.data,
      );
    expect(await refusal(teo.load(setUp.loader, { studentId: demo.student("Wren") }))).toMatchObject({
      kind: "not-allowed",
      ofSchool: false,
      ask: ["Noor Halloran"],
    });
    expect(await refusal(teo.load(lists.loader))).toMatchObject({
      kind: "not-allowed",
      ofSchool: true,
      ask: expect.arrayContaining(["Noor Halloran", "Desmond Achterberg"]) as string[],
    });
    // Outside a circle nobody learns that there is such a student.
    const gus = await caller(db.app, "gus");
    expect(await refusal(gus.load(setUp.loader, { studentId: demo.student("Wren") }))).toEqual({
      kind: "not-found",
    });
  });

  it("sees no form that could not be saved: a student needs a case manager, and there is none", async () => {
    expect((await desmond.load(edit.loader)).isNobodys).toBe(false);
    const managers = await db.owner("people").where({ case_manager: true }).select("person_id");
    const ids = managers.map(({ person_id }) => person_id);
    await db.owner("people").whereIn("person_id", ids).update({ case_manager: false });
    try {
      expect((await desmond.load(edit.loader)).isNobodys).toBe(true);
      expect((await desmond.load(several.loader)).isNobodys).toBe(true);
      expect((await desmond.load(caseload.loader)).beginning).toEqual({
        role: "administrator",
        managers: [],
      });
    } finally {
      await db.owner("people").whereIn("person_id", ids).update({ case_manager: true });
    }
  });
});

describe("what single letters do", () => {
  it("is kept for the person, and for nobody else", async () => {
    const keysOf = async (who: Caller) => (await who.load(frame.loader)).keys;
    expect(await keysOf(teo)).toBe("plain");
    expect(await teo.send(ownSettings.action, { letterKeys: "alt" })).toEqual({ saved: "alt" });
    expect([await keysOf(teo), await keysOf(noor)]).toEqual(["alt", "plain"]);
    expect(await problemsOf(teo.send(ownSettings.action, { letterKeys: "shift" }))).toHaveProperty(
      "letterKeys",
    );
    expect((await teo.load(ownSettings.loader)).letterKeys).toBe("alt");
  });
});

describe("a student of one name", () => {
  it("is added, and another of the same one name is asked about", async () => {
    const fields = { studentId: newId(), givenName: "Juno", familyName: "" };
    expect(await leadsTo(noor.send(edit.action, fields))).toBe(`/students/${fields.studentId}`);
    expect(await problemsOf(noor.send(edit.action, { ...fields, studentId: newId() }))).toHaveProperty(
      "another",
    );
    expect(
      await problemsOf(noor.send(edit.action, { ...fields, studentId: newId(), givenName: "" })),
    ).toEqual({
      givenName: "What is the student called? One name is enough.",
    });
  });
});
