import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { demoFamilyLink } from "#demo/school.ts";
import { makeFamilyCode, openFamily } from "#server/auth/family.ts";
import { hearNews } from "#server/dispatch/hear.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { type Caller, caller, familyCaller, leadsTo, problemsOf, statusOf } from "#tests/route.ts";
import * as familyPage from "../family/family-page.tsx";
import * as guardians from "../family/guardians.tsx";
import * as report from "../report/report.tsx";
import * as retention from "../school/retention.tsx";
import * as editStudent from "../student/edit-student.tsx";
import * as today from "../today/today.tsx";
import * as rights from "./rights.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let [noor, teo, desmond]: Caller[] = [];
let wren: { studentId: string };
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  [noor, teo, desmond] = await Promise.all([
    caller(db.app, "noor"),
    caller(db.app, "teo"),
    caller(db.app, "desmond"),
  ]);
  wren = { studentId: demo.student("Wren") };
});
afterAll(() => db.close());

const must = (found: Caller | undefined): Caller => {
  if (!found) throw new Error("nobody");
  return found;
};
const of = (who: Caller | undefined, ids = wren) => must(who).load(rights.loader, ids);
const send = (who: Caller | undefined, intent: string, fields: Record<string, string>, ids = wren) =>
  must(who).send(rights.action, { intent, ...fields }, ids);
const asked = (more: Record<string, string> = {}) => ({
  ...{ requestId: newId(), kind: "inspect", byWhom: "Wren’s mother", words: "", receivedOn: "2026-11-20" },
  ...more,
});

describe("a request by right", () => {
  it("is written down once, stands where the lead and the administrator look, and is closed with what became of it", async () => {
    const request = asked({ words: "<b>All</b> of it" });
    expect(await leadsTo(send(noor, "note request", request))).toBe(`/students/${wren.studentId}/rights`);
    expect(await leadsTo(send(noor, "note request", request))).toBe(`/students/${wren.studentId}/rights`);
    const open = (await of(noor)).requests.filter(({ ended }) => ended === null);
    expect(open).toMatchObject([{ kind: "inspect", words: "<b>All</b> of it", isOwn: false }]);
    expect((await must(noor).load(today.loader)).requests).toMatchObject([{ name: "Wren Abara" }]);
    expect((await must(teo).load(today.loader)).requests).toEqual([]);
    expect((await must(desmond).load(retention.loader)).requests).toMatchObject([{ name: "Wren Abara" }]);
    const { requestId } = request;
    const wrongly = await problemsOf(
      send(noor, "end request", { requestId, outcome: "amended", outcomeWords: "" }),
    );
    expect(wrongly.problems["outcome"]).toContain("Choose");
    expect(
      await leadsTo(
        send(desmond, "end request", { requestId, outcome: "inspected", outcomeWords: "In the office" }),
      ),
    ).toBe(`/students/${wren.studentId}/rights`);
    expect((await of(noor)).requests.find((one) => one.requestId === requestId)?.ended).toMatchObject({
      ...{ outcome: "inspected", words: "In the office", by: "Desmond Achterberg" },
    });
    // Closed is closed.
    expect(
      await statusOf(send(noor, "end request", { requestId, outcome: "withdrawn", outcomeWords: "" })),
    ).toBe(404);
    const events = await db
      .owner("audit")
      .where({ thing: "rights request", thing_id: requestId })
      .orderBy("audit_id");
    expect(events).toMatchObject([{ act: "made" }, { act: "ended" }]);
  });

  it("is refused of tomorrow, without who asks, and of who only records", async () => {
    expect(
      (await problemsOf(send(noor, "note request", asked({ receivedOn: "2027-11-20" })))).problems,
    ).toHaveProperty("receivedOn");
    expect((await problemsOf(send(noor, "note request", asked({ byWhom: " " })))).problems).toHaveProperty(
      "byWhom",
    );
    expect(await statusOf(of(teo))).toBe(403);
    expect(await statusOf(send(teo, "note request", asked()))).toBe(403);
    // An administrator outside the circle sees requests and holds, and nothing that parents stated.
    expect(await of(desmond)).toMatchObject({ isInside: false, statements: null, goals: [] });
  });
});

describe("a guardian", () => {
  it("asks on the family's page, one of a kind at a time, in their language; the lead hears of it, and they read what became of it", async () => {
    const row = await db
      .owner("guardians")
      .where({ name: "Marisol Reyes" })
      .first("guardian_id", "student_id");
    const ids = { guardianId: row?.guardian_id ?? "" };
    const juniper = { studentId: row?.student_id ?? "" };
    const code = (await makeFamilyCode(db.app, demo.schoolId, ids.guardianId)) ?? "";
    const opened = await openFamily(db.app, demoFamilyLink, code);
    if (typeof opened !== "string") throw new Error("not opened");
    const marisol = familyCaller(db.app, opened);
    const ask = (fields: Record<string, string>) =>
      marisol.send(
        familyPage.action,
        { intent: "rights", requestId: newId(), kind: "amend", rightsWords: "", ...fields },
        ids,
      );
    expect((await problemsOf(ask({}))).problems["rightsWords"]).toBe("Escriba qué debe corregirse.");
    const told = await ask({ rightsWords: "La fecha del 3 de octubre no es correcta." });
    expect(told).toMatchObject({ data: { done: "rights" } });
    expect((await problemsOf(ask({ rightsWords: "Otra vez" }))).status).toBe(409);
    expect((await marisol.load(familyPage.loader, ids)).requests).toMatchObject([
      { kind: "amend", by: null, ended: null },
    ]);
    expect((await must(noor).load(guardians.loader, juniper)).openRequests).toMatchObject([
      { kind: "amend" },
    ]);
    await hearNews(db.app, demo.schoolId, true);
    const messages = await db.owner("messages").where({ student_id: juniper.studentId, kind: "question" });
    expect(messages.length).toBeGreaterThan(0);
    const [request] = (await of(noor, juniper)).requests;
    expect(request).toMatchObject({ isOwn: true, byWhom: "Marisol Reyes" });
    await send(
      noor,
      "end request",
      { requestId: request?.requestId ?? "", outcome: "not amended", outcomeWords: "" },
      juniper,
    );
    expect((await marisol.load(familyPage.loader, ids)).requests).toMatchObject([
      { ended: { outcome: "not amended" } },
    ]);
    // Another guardian's request is not theirs to read.
    await send(noor, "note request", asked({ byWhom: "The father" }), juniper);
    expect((await marisol.load(familyPage.loader, ids)).requests).toHaveLength(1);
  });
});

describe("a statement of the parents", () => {
  const stating = (more: Record<string, string> = {}) => ({
    ...{ statementId: newId(), about: demo.goal("Wren", "2b"), statementBy: "The mother" },
    ...{ statementOn: "2026-11-20", statementWords: "She does this at home.\n\nEvery day.", ...more },
  });
  const sections = async (search = "") =>
    (await must(noor).load(report.loader, wren, search)).report.sections.map(({ name }) => name);

  it("is in the report of each audience, and in none once it is withdrawn; what is of no goal of the student is refused", async () => {
    const statement = stating();
    await send(noor, "add statement", statement);
    await send(noor, "add statement", statement);
    expect((await of(noor)).statements).toMatchObject([
      { part: "goal", byWhom: "The mother", withdrawn: null },
    ]);
    for (const audience of ["team", "family", "file", "own"])
      expect([audience, await sections(`?for=${audience}`)]).toEqual([
        audience,
        expect.arrayContaining(["parents"]),
      ]);
    expect(await statusOf(send(noor, "add statement", stating({ about: demo.goal("Rafi", "1") })))).toBe(404);
    expect(
      (await problemsOf(send(noor, "add statement", stating({ statementWords: "" })))).problems,
    ).toHaveProperty("statementWords");
    expect(await statusOf(send(desmond, "add statement", stating()))).toBe(404);
    await send(noor, "withdraw", { statementId: statement.statementId });
    expect(await sections()).not.toContain("parents");
    expect((await of(noor)).statements).toMatchObject([{ withdrawn: { by: "Noor Halloran" } }]);
  });
});

describe("keeping and erasing", () => {
  const planning = (more: Record<string, string> = {}) => ({
    ...{
      erasureId: newId(),
      "kind.record": "on",
      why: "parents asked",
      toldOn: "2026-11-20",
      toldHow: "letter",
    },
    ...{ toldWhom: "both parents", plannedOn: "2026-12-20", initials: "O.F.", ...more },
  });

  it("has the years that the school sets, each with its rule, and nothing before", async () => {
    await db.owner("retention").delete();
    const save = (fields: Record<string, string>) => must(desmond).send(retention.action, fields);
    expect((await must(desmond).load(retention.loader)).rules).toEqual({});
    expect((await problemsOf(save({ "years.record": "5" }))).problems).toHaveProperty(["source.record"]);
    expect(
      (await problemsOf(save({ "years.record": "many", "source.record": "x" }))).problems,
    ).toHaveProperty(["years.record"]);
    expect((await problemsOf(save({ "source.jots": "x" }))).problems).toHaveProperty(["years.jots"]);
    expect(await leadsTo(save({ "years.record": "5", "source.record": "State rule 4" }))).toBe(
      "/school/retention",
    );
    expect(await leadsTo(save({ "years.record": "6", "source.record": "State rule 4" }))).toBe(
      "/school/retention",
    );
    expect((await must(noor).load(retention.loader)).rules).toEqual({
      record: { years: 6, source: "State rule 4" },
    });
    expect(await statusOf(must(noor).send(retention.action, {}))).toBe(403);
    const changes = await db
      .owner("audit_changes")
      .where({ of_table: "retention" })
      .orderBy("change_id", "desc");
    expect(changes[0]).toMatchObject({ changes: { years: [5, 6] } });
    expect(await leadsTo(save({}))).toBe("/school/retention");
    expect((await must(desmond).load(retention.loader)).rules).toEqual({});
  });

  it("archives a student who left: readable for the circle, off the caseload, in the list of who left", async () => {
    const otis = { studentId: demo.student("Otis") };
    const now = await must(noor).load(editStudent.loader, otis);
    if (!now.student) throw new Error("no student");
    const { givenName, familyName, grade } = now.student;
    await must(noor).send(
      editStudent.action,
      { studentId: otis.studentId, givenName, familyName, grade, leftOn: "2026-11-20", intent: "save" },
      otis,
    );
    expect((await must(desmond).load(retention.loader)).left).toMatchObject([{ name: "Otis Fairweather" }]);
    expect((await must(teo).load(report.loader, otis)).report.title).toBe("Otis Fairweather");
    expect((await must(noor).load(today.loader)).students.map(({ name }) => name)).not.toContain(
      "Otis Fairweather",
    );
  });

  it("plans an erasing after it is made sure whose it is and how the parents were told, and cancels it", async () => {
    const otis = { studentId: demo.student("Otis") };
    const plan = (more: Record<string, string>) =>
      problemsOf(send(desmond, "plan erasing", planning(more), otis));
    expect((await plan({ initials: "W.A." })).problems).toHaveProperty("initials");
    expect((await plan({ "kind.record": "" })).problems).toHaveProperty("kinds");
    expect((await plan({ toldOn: "" })).problems).toHaveProperty("toldOn");
    expect((await plan({ toldWhom: "" })).problems).toHaveProperty("toldWhom");
    expect((await plan({ plannedOn: "2026-11-26" })).problems).toHaveProperty("plannedOn");
    expect((await plan({ why: "years are over" })).problems).toHaveProperty("why");
    expect(await statusOf(send(noor, "plan erasing", planning(), otis))).toBe(403);
    expect(await leadsTo(send(desmond, "plan erasing", planning(), otis))).toBe(
      `/students/${otis.studentId}/rights`,
    );
    const { erasures, state } = await of(desmond, otis);
    expect(erasures).toMatchObject([{ state: "planned", plannedOn: "2026-12-20", toldWhom: "both parents" }]);
    expect(state.against).toEqual(["planned already"]);
    expect((await plan({})).problems).toHaveProperty("form");
    expect(
      await leadsTo(send(desmond, "cancel erasing", { erasureId: erasures[0]?.erasureId ?? "" }, otis)),
    ).toBe(`/students/${otis.studentId}/rights`);
    expect((await of(desmond, otis)).erasures).toMatchObject([{ state: "cancelled" }]);
    await send(noor, "set hold", { holdId: newId(), holdReason: "A complaint is open" }, otis);
    expect((await plan({})).problems).toHaveProperty("form");
    const { holds } = await of(noor, otis);
    expect(holds).toMatchObject([{ reason: "A complaint is open", ended: null }]);
    await send(noor, "end hold", { holdId: holds[0]?.holdId ?? "" }, otis);
    expect((await of(noor, otis)).state.against).toEqual([]);
  });
});
