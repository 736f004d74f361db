import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { CircleRole } from "#server/access/actor.ts";
import { permissions } from "#server/access/table.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { testNow } from "#tests/clock.ts";
import { recordedItem } from "#tests/recorded.ts";
import { type Caller, caller, leadsTo, problemsOf } from "#tests/route.ts";
import * as caseload from "../caseload/caseload.tsx";
import * as statement from "../progress-reports/statement.tsx";
import * as start from "../progress-reports/start.tsx";
import * as keep from "../recording/submit-queued.ts";
import * as report from "../report/report.tsx";
import * as circles from "../school/circles.tsx";
import * as student from "../student/student.tsx";
import * as page from "./circle.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
let teo: Caller;
let gus: Caller;
let desmond: Caller;
let today: string;

beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  [noor, teo, gus, desmond] = await Promise.all([
    caller(db.app, "noor"),
    caller(db.app, "teo"),
    caller(db.app, "gus"),
    caller(db.app, "desmond"),
  ]);
  ({ today } = await noor.load(caseload.loader));
});
afterAll(() => db.close());

const wren = () => ({ studentId: demo.student("Wren") });
const idOf = (key: Parameters<DemoIds["person"]>[0]) => demo.person(key).personId;
const open = (who = noor, search = "") => who.load(page.loader, wren(), search);
const memberOf = async (key: Parameters<DemoIds["person"]>[0]) =>
  (await open()).members.find(({ personId }) => personId === idOf(key));
const send = (who: Caller, fields: Record<string, string>) => who.send(page.action, fields, wren());
const add = (who: Caller, key: Parameters<DemoIds["person"]>[0], circleRole: CircleRole, more = {}) =>
  send(who, { intent: "add", personId: idOf(key), circleRole, fromOn: "", toOn: "", ...more });
const end = (who: Caller, key: Parameters<DemoIds["person"]>[0]) =>
  send(who, { intent: "end", personId: idOf(key) });
const sees = async (who: Caller) => {
  try {
    await who.load(student.loader, wren());
    return true;
  } catch (error) {
    expect(error).toMatchObject({ init: { status: 404 } });
    return false;
  }
};
const day = (days: number) =>
  new Date(Date.parse(`${today}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10);

describe("a student's circle", () => {
  it("brings a colleague in, who sees the student from then on, and takes them out at once", async () => {
    expect(await sees(gus)).toBe(false);
    await leadsTo(add(noor, "gus", "record"));
    expect(await sees(gus)).toBe(true);
    expect(await memberOf("gus")).toMatchObject({
      circleRole: "record",
      state: "now",
      fromOn: today,
      seen: null,
    });
    await gus.load(report.loader, wren());
    expect((await memberOf("gus"))?.seen?.on).toBe(today);
    await leadsTo(end(noor, "gus"));
    expect(await sees(gus)).toBe(false);
    expect(await memberOf("gus")).toMatchObject({ state: "ended", toOn: day(-1) });
    // What waits on a device is not taken any more.
    const item = recordedItem(demo);
    expect(await gus.sendJson(keep.action, item)).not.toMatchObject({ outcome: "saved" });
    const { changes } = await open();
    expect(changes.slice(0, 2).map(({ act, person, by }) => [act, person, by])).toEqual([
      ["ended", "Gus Lindqvist", "N. Halloran"],
      ["added", "Gus Lindqvist", "N. Halloran"],
    ]);
  });

  it("lets somebody in from a day on, until a last day", async () => {
    await leadsTo(add(noor, "gus", "read", { fromOn: day(1), toOn: day(5) }));
    expect(await memberOf("gus")).toMatchObject({ state: "to come", fromOn: day(1), toOn: day(5) });
    expect(await sees(gus)).toBe(false);
    await leadsTo(add(noor, "gus", "read", { fromOn: day(-3), toOn: today }));
    expect(await sees(gus)).toBe(true);
    // The day after, without anybody's doing.
    await db
      .owner("circle")
      .where({ person_id: idOf("gus") })
      .update({ from_on: day(-9), to_on: day(-1) });
    expect(await sees(gus)).toBe(false);
    expect((await problemsOf(add(noor, "gus", "read", { toOn: day(-2) }))).problems["toOn"]).toContain(
      "before",
    );
  });

  it("says what is wrong, and changes nothing", async () => {
    const nobody = send(noor, { intent: "add", circleRole: "read", fromOn: "", toOn: "" });
    expect((await problemsOf(nobody)).problems).toEqual({ people: "Choose at least one person." });
    await db
      .owner("people")
      .where({ person_id: idOf("hana") })
      .update({ left_on: day(-30) });
    expect((await problemsOf(add(noor, "hana", "read"))).problems["people"]).toContain("work at the school");
    await db
      .owner("people")
      .where({ person_id: idOf("hana") })
      .update({ left_on: null });
    const over = { intent: "change", personId: idOf("teo"), circleRole: "read", toOn: day(-1) };
    expect((await problemsOf(send(noor, over))).problems[`toOn-${idOf("teo")}`]).toContain("End now");
    expect(await memberOf("teo")).toMatchObject({ circleRole: "record", toOn: null });
  });

  it("changes what a person may do: reading alone, they record no more", async () => {
    const change = (circleRole: CircleRole) =>
      leadsTo(send(noor, { intent: "change", personId: idOf("teo"), circleRole, toOn: "" }));
    await change("read");
    expect(await sees(teo)).toBe(true);
    const now = recordedItem(demo, { observedAt: new Date(testNow()).toISOString() });
    expect(await teo.sendJson(keep.action, now)).not.toMatchObject({ outcome: "saved" });
    await change("record");
    expect(await teo.sendJson(keep.action, recordedItem(demo))).toMatchObject({ outcome: "saved" });
  });

  it("is never without a lead that has no end", async () => {
    const why = expect.stringContaining("A student needs a lead without an end");
    const part = `part-${idOf("noor")}`;
    expect((await problemsOf(end(noor, "noor"))).problems).toEqual({ [part]: why });
    const until = { intent: "change", personId: idOf("noor"), circleRole: "lead", toOn: day(7) };
    expect((await problemsOf(send(noor, until))).problems).toEqual({ [part]: why });
    expect((await problemsOf(add(noor, "noor", "record"))).problems).toEqual({ people: why });
    expect(await memberOf("noor")).toMatchObject({ circleRole: "lead", state: "now", toOn: null });
    // Two leads may not both be ended, not even in one moment.
    await leadsTo(add(noor, "hana", "lead"));
    const both = await Promise.allSettled([leadsTo(end(desmond, "noor")), leadsTo(end(desmond, "hana"))]);
    expect(both.map(({ status }) => status).sort()).toEqual(["fulfilled", "rejected"]);
    await leadsTo(add(desmond, "noor", "lead"));
    await leadsTo(end(desmond, "hana").catch(() => null)).catch(() => null);
    expect((await memberOf("noor"))?.state).toBe("now");
  });

  it("hands a part over with its statements, after what is open was shown", async () => {
    const goalId = demo.goal("Wren", "3");
    const { pathname } = new URL(
      String(await leadsTo(noor.load(start.loader).catch((led: unknown) => led))),
      "http://x",
    );
    const ids = { ...wren(), goalId, from: pathname.split("/").at(-1) ?? "" };
    await leadsTo(noor.send(statement.action, { intent: "writer", personId: idOf("teo") }, ids));
    expect((await memberOf("teo"))?.work).toMatchObject({ writes: ["3 Asks for a break with a card"] });
    const over = { intent: "hand over", personId: idOf("teo"), toPersonId: idOf("gus") };
    await leadsTo(send(noor, over));
    expect(await memberOf("gus")).toMatchObject({ circleRole: "record", state: "now" });
    expect((await memberOf("gus"))?.work).toMatchObject({ writes: ["3 Asks for a break with a card"] });
    expect(await sees(teo)).toBe(false);
    const back = { intent: "hand over", personId: idOf("gus"), toPersonId: idOf("teo") };
    await leadsTo(send(noor, back));
    expect([await sees(teo), await sees(gus)]).toEqual([true, false]);
    const nobody = { intent: "hand over", personId: idOf("teo"), toPersonId: "" };
    expect((await problemsOf(send(noor, nobody))).problems).toEqual({
      [`to-${idOf("teo")}`]: "Choose a colleague.",
    });
  });

  it("is changed by a lead of the student or an administrator, and looked at by who is in it", async () => {
    expect((await open(teo)).mayEdit).toBe(false);
    await expect(end(teo, "mirela")).rejects.toMatchObject({ init: { status: 403 } });
    await expect(open(gus)).rejects.toMatchObject({ init: { status: 404 } });
    await expect(add(gus, "gus", "lead")).rejects.toMatchObject({ init: { status: 404 } });
    // An administrator outside the circle says who is in it, and sees nothing of the record.
    const seen = await open(desmond);
    expect(seen).toMatchObject({ mayEdit: true, isInside: false });
    expect(await sees(desmond)).toBe(false);
    await expect(desmond.load(report.loader, wren())).rejects.toMatchObject({ init: { status: 404 } });
  });

  it("shows who may do what as the table of permissions decides it, and what one person sees", async () => {
    const { table } = await open();
    const answersOf = (act: string) => table.find((row) => row.act === act)?.answers;
    expect(answersOf("Record goals")).toEqual(["yes", "yes", "no", "no"]);
    expect(answersOf("Correct and remove entries")).toEqual(["yes", "own", "no", "no"]);
    expect(answersOf("Say who is in the circle")).toEqual(["yes", "no", "no", "yes"]);
    expect(permissions["entry.record"]).toEqual(["lead", "record"]);
    const teoSees = (await open(noor, `?as=${idOf("teo")}`)).as;
    expect(teoSees).toMatchObject({ name: "Teo Brandvold", circleRole: "record" });
    expect(teoSees?.own).toContain("Correct and remove entries");
    expect(teoSees?.mayNot).toContain("Set up goals, decide, confirm");
    const gusSees = (await open(noor, `?as=${idOf("gus")}`)).as;
    expect([gusSees?.circleRole, gusSees?.may, gusSees?.own]).toEqual([null, [], []]);
  });
});

describe("circles of the school", () => {
  const given = (who: Caller, people: string[], students: string[]) => {
    const form = new URLSearchParams({ circleRole: "read", fromOn: "", toOn: "" });
    for (const personId of people) form.append("personId", personId);
    for (const studentId of students) form.append("studentId", studentId);
    return who.send(circles.action, form as unknown as Record<string, string>);
  };
  const listed = async (who: Caller) =>
    (await who.load(circles.loader)).students.map(({ studentId }) => studentId);

  it("are those of the students a person leads, for an administrator all of them", async () => {
    expect((await listed(noor)).length).toBe(14);
    expect((await listed(desmond)).length).toBe(14);
    await expect(listed(teo)).rejects.toMatchObject({ init: { status: 403 } });
    await db
      .owner("people")
      .where({ person_id: idOf("ines") })
      .update({ case_manager: true });
    const ines = await caller(db.app, "ines");
    expect(await listed(ines)).toEqual([]);
    const { problems } = await problemsOf(given(ines, [idOf("gus")], [demo.student("Wren")]));
    expect(problems["students"]).toContain("no longer");
    await db
      .owner("people")
      .where({ person_id: idOf("ines") })
      .update({ case_manager: false });
  });

  it("take several people and several students at once", async () => {
    const students = ["Wren", "Otis"].map(demo.student);
    await leadsTo(given(desmond, [idOf("gus"), idOf("hana")], students));
    const { rows } = await db.owner.raw<{ rows: { n: number }[] }>(
      "select count(*)::int as n from circle where student_id = any(?) and person_id = any(?) and part = 'read' and to_on is null",
      [students, [idOf("gus"), idOf("hana")]],
    );
    expect(rows[0]?.n).toBe(4);
    expect((await problemsOf(given(desmond, [], []))).problems).toEqual({
      people: "Choose at least one person.",
      students: "Choose at least one student.",
    });
  });
});
