import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { type Caller, caller, leadsTo, problemsOf } from "#tests/route.ts";
import * as caseload from "../caseload/caseload.tsx";
import * as find from "../frame/find.ts";
import * as frame from "../frame/frame.tsx";
import * as record from "../recording/record.tsx";
import * as entry from "./entry.tsx";
import * as goals from "./goals.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
let teo: Caller;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  [noor, teo] = await Promise.all([caller(db.app, "noor"), caller(db.app, "teo")]);
});
afterAll(() => db.close());

const grid = () => ({ studentId: demo.student("Elowen"), goalId: demo.goal("Elowen", "2") });
/** Marks of the grid of six by the place of their level: 0 is independent, 4 is refused. */
const marks = (levels: readonly number[]) =>
  Object.fromEntries(levels.map((level, index) => [`mark.${index}`, String(level)]));

describe("an entry of a grid", () => {
  const entryId = newId();
  const ids = () => ({ studentId: grid().studentId, entryId });
  const fields = { entryId, observedAt: "2026-11-20T10:20", setting: "lunch room" };

  it("that is broken off is refused by name, kept as not finished on request, and scored nowhere", async () => {
    const half = { ...fields, ...marks([0, 0, 4]) };
    const { status, problems } = await problemsOf(noor.send(record.action, half, grid()));
    expect(status).toBe(422);
    expect(problems["marks"]).toMatch(/^Not marked yet: answers a question, takes the tray/);
    await leadsTo(noor.send(record.action, { ...half, finished: "no" }, grid()));
    const shown = await noor.load(entry.loader, ids());
    expect(shown).toMatchObject({
      entry: { setting: "lunch room", purpose: "probe", score: { value: null } },
      mayChange: true,
    });
    expect(shown.line.sentence).toMatch(/not finished, 3\sof\s6 marked/);
    const { open } = await noor.load(goals.loader, grid());
    // Its marks are in the history of the sub-skills; no point is made of it.
    expect(
      open?.parts?.rows.find(({ part }) => part === "says what she wants")?.marks.length,
    ).toBeGreaterThan(0);
    expect(open?.rows.find((row) => row.entryId === entryId)?.figure).toMatch(/not finished/);
  });

  it("is completed later, by its author or the lead, on top of what they have seen", async () => {
    const whole = { ...fields, ...marks([0, 0, 4, 1, 0, 0]), intent: "correct", reason: "after the drill" };
    expect((await problemsOf(noor.send(entry.action, { ...whole, revision: "9" }, ids()))).status).toBe(409);
    const future = { ...whole, revision: "1", observedAt: "2199-01-01T10:00" };
    expect((await problemsOf(noor.send(entry.action, future, ids()))).problems).toEqual({
      observedAt: "This day is still to come.",
    });
    const mirela = await caller(db.app, "mirela");
    await expect(mirela.send(entry.action, { ...whole, revision: "1" }, ids())).rejects.toMatchObject({
      init: { status: 403 },
    });
    expect(await leadsTo(noor.send(entry.action, { ...whole, revision: "1" }, ids()))).toMatch(/saved=/);
    const shown = await noor.load(entry.loader, ids());
    expect(shown.entry.score).toMatchObject({ numerator: 4, denominator: 6 });
    expect(shown.history.map(({ act, reason }) => [act, reason])).toEqual([
      ["made", null],
      ["corrected", "after the drill"],
    ]);
    expect(shown.facts.find(({ value }) => /refused/.test(value))).toBeDefined();
  });

  it("counts only if its purpose does, and where it was is kept", async () => {
    const points = async () =>
      Number(/^\d+/.exec((await noor.load(goals.loader, grid())).open?.description ?? "")?.[0]);
    const before = await points();
    const teaching = {
      ...fields,
      ...marks([0, 0, 4, 1, 0, 0]),
      intent: "correct",
      purpose: "teaching",
      setting: "classroom",
      revision: "2",
    };
    await leadsTo(noor.send(entry.action, teaching, ids()));
    expect(await points()).toBe(before - 1);
    const row = (await noor.load(goals.loader, grid())).open?.rows.find((one) => one.entryId === entryId);
    expect(row).toMatchObject({ purpose: "teaching", setting: "classroom" });
    const wrong = { ...teaching, purpose: "fun", revision: "3" };
    expect((await problemsOf(noor.send(entry.action, wrong, ids()))).problems).toHaveProperty("purpose");
  });

  it("is removed and put back, with both in its history", async () => {
    const removed = await leadsTo(noor.send(entry.action, { intent: "remove", revision: "3" }, ids()));
    expect(removed).toMatch(/removed=/);
    const search = `?${removed?.split("?")[1]}`;
    expect((await noor.load(goals.loader, grid(), search)).removed).toMatchObject({ entryId, revision: 4 });
    expect(
      (await problemsOf(noor.send(entry.action, { intent: "restore", revision: "3" }, ids()))).status,
    ).toBe(409);
    await leadsTo(noor.send(entry.action, { intent: "restore", revision: "4" }, ids()));
    expect((await noor.load(entry.loader, ids())).history.map(({ act }) => act)).toEqual([
      "made",
      "corrected",
      "corrected",
      "removed",
      "restored",
    ]);
  });
});

describe("the caseload and the spine", () => {
  it("show the person's students, the goals that run, and where data are due", async () => {
    const mine = await noor.load(caseload.loader);
    expect(mine.students).toHaveLength(14);
    expect(mine.mayAdd).toBe(true);
    const running = mine.students.flatMap((student) => student.goals).length;
    const goal = { goal_id: demo.goal("Malik", "2") };
    await db.owner("goals").where(goal).update({ ended: "discontinued", ended_on: "2026-11-20" });
    const after = await noor.load(caseload.loader);
    expect(after.students.flatMap((student) => student.goals)).toHaveLength(running - 1);
    const due = new Set(
      after.students.flatMap(({ studentId, goals: list }) =>
        list.some(({ dueToday }) => dueToday) ? studentId : [],
      ),
    );
    const spine = await noor.load(frame.loader);
    const onSpine = spine.groups.flatMap(({ students }) => students);
    expect(new Set(onSpine.flatMap(({ studentId, due: dot }) => (dot ? studentId : [])))).toEqual(due);
    // Each stands there once, in the first group that has them; those of no group last.
    expect(onSpine.map(({ studentId }) => studentId).sort()).toEqual(
      after.students.map(({ studentId }) => studentId).sort(),
    );
    expect(spine.groups.map(({ name }) => name)).toEqual(
      [...spine.groups.map(({ name }) => name)].filter(Boolean).sort().concat(""),
    );
  });

  it("show a paraeducator the students in whose circle they are, and nothing that is for others", async () => {
    const his = await teo.load(caseload.loader);
    expect(his.mayAdd).toBe(false);
    const names = his.students.map(({ givenName }) => givenName);
    expect(names).toContain("Wren");
    expect(names).not.toContain("Lumi");
    const found = await teo.load(find.loader);
    expect(found).toMatchObject({ mayAddStudents: false, mayEditSchool: false });
    expect(JSON.stringify(found)).not.toMatch(/Lumi|Sato/);
    expect((await noor.load(find.loader)).mayEditSchool).toBe(true);
  });
});
