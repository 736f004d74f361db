import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { retimed } from "#core/sync/retimed.ts";
import { testNow } from "#tests/clock.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { incidentItem, keep as keepAs, recordedItem, send } from "#tests/recorded.ts";
import { signedIn, type Visitor } from "#tests/session.ts";
import { startWebServer, type WebServer } from "#tests/web-server.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let web: WebServer;
let demo: DemoIds;
let noor: Visitor;
let gus: Visitor;
let teo: Visitor;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  web = await startWebServer(db.appUrl);
  [noor, gus, teo] = await Promise.all([
    signedIn(web.url, "noor"),
    signedIn(web.url, "gus"),
    signedIn(web.url, "teo"),
  ]);
});
afterAll(async () => {
  await web.stop();
  await db.close();
});

const item = (change: Parameters<typeof recordedItem>[1] = {}) => recordedItem(demo, change);
const keep = (body: unknown, who = noor) => keepAs(who, body);
const row = (id: string) => db.owner<Record<string, unknown>>("entries").where({ entry_id: id }).first();

describe("what a device recorded", () => {
  it("is kept once, with its sitting, its circumstances and the device's own time", async () => {
    const made = item({ support: "gestural", interrupted: true, setting: "resource room" });
    expect(await keep(made)).toEqual({ outcome: "saved" });
    expect(await keep(made)).toEqual({ outcome: "already" });
    expect(await row(made.id)).toMatchObject({
      sitting_id: made.sittingId,
      circumstances: { support: "gestural", interrupted: true },
      setting: "resource room",
      value: (100 * 2) / 3,
      entry: { sequence: "101" },
      device_at: new Date(made.observedAt),
      observed_at: new Date(made.observedAt),
    });
    const page = await (await noor.get(`/students/${demo.student("Wren")}/report`)).text();
    expect(page.replaceAll("\u00a0", " ")).toContain("2 of 3 correct (67%), support: gestural, interrupted.");
  });

  it("is refused in words where it says something else under a number that is taken, or cannot be", async () => {
    const made = item();
    await keep(made);
    expect(await keep({ ...made, note: "another" })).toMatchObject({
      outcome: "refused",
      why: /number is there already/,
    });
    expect(await keep(item({ entry: { kind: "trials", correct: 5, attempted: 3 } }))).toMatchObject({
      outcome: "refused",
      why: /5 correct is more than the 3 attempted/,
    });
    expect(await keep(item({ entry: { kind: "count", count: 3 } }))).toMatchObject({ outcome: "refused" });
    expect(await keep({ ...item(), format: 99 })).toMatchObject({
      outcome: "refused",
      why: /cannot read this/,
    });
    expect(await keep("nothing")).toMatchObject({ outcome: "refused" });
    expect(await keep(item({ observedAt: "2199-01-01T10:00:00.000Z" }))).toMatchObject({
      outcome: "refused",
      why: /clock of this device/,
    });
  });

  it("keeps the meaning it had where the goal's measure was changed in the meantime", async () => {
    const goalId = demo.goal("Wren", "3");
    const studentId = demo.student("Wren");
    const { rows } = await db.owner.raw<{ rows: { measure: { levels: string[] } }[] }>(
      "select measure from goal_measures where goal_id = ? and version = 1",
      [goalId],
    );
    const level = rows[0]?.measure.levels[0] ?? "";
    await db.owner.raw(
      `insert into goal_measures (school_id, goal_id, version, measure) values (?, ?, 2, '{"kind": "trials"}')`,
      [demo.schoolId, goalId],
    );
    await db
      .owner("goals")
      .where({ goal_id: goalId })
      .update({ measure_version: 2, figures_from_version: 2 });
    const made = item({
      goalId,
      studentId,
      entry: { kind: "supports", counts: { [level]: 4 }, sequence: Array(4).fill(level) },
    });
    expect(await keep(made)).toEqual({ outcome: "saved" });
    expect(await row(made.id)).toMatchObject({ measure_version: 1, value: 100 });
  });

  it("has its time put right where the device's clock is minutes off, and left where it is not", async () => {
    const off = item({ clockAhead: 3_600_000 });
    await keep(off);
    expect(await row(off.id)).toMatchObject({
      observed_at: new Date(Date.parse(off.observedAt) + 3_600_000),
      device_at: new Date(off.observedAt),
    });
    const near = item({ clockAhead: 20_000 });
    await keep(near);
    expect(await row(near.id)).toMatchObject({ observed_at: new Date(near.observedAt) });
  });

  it("is refused where the clock cannot be right, and taken when its person says when it was", async () => {
    // Kept to the second, as every time of the application.
    const now = Math.floor(testNow() / 1000) * 1000;
    const iso = (at: number) => new Date(at).toISOString();
    const asked = {
      outcome: "refused",
      asks: "when",
      why: expect.stringMatching(/Say when it was/) as string,
    };
    // Three minutes ahead of the server, and one: clocks that agree are never further apart than two.
    expect(await keep(item({ observedAt: iso(now + 180_000) }))).toEqual(asked);
    expect(await keep(item({ observedAt: iso(now + 60_000) }))).toEqual({ outcome: "saved" });
    // Saved before its pack was given: the clock was set back, here by a year.
    const back = item({
      ...{ observedAt: "2025-10-24T17:00:00.000Z", startedAt: "2025-10-24T16:50:00.000Z" },
      ...{ keptAt: "2025-10-24T17:05:00.000Z", packAt: iso(now - 3_600_000) },
    });
    expect(await keep(back)).toEqual(asked);
    expect(await row(back.id)).toBeUndefined();
    const [said] = retimed([back], now - 60_000);
    expect(await keep(said ?? back)).toEqual({ outcome: "saved" });
    expect(await row(back.id)).toMatchObject({ observed_at: new Date(now - 60_000) });
    // A clock that is years off and known to be is put right without a question.
    const years = 3 * 365 * 86_400_000;
    const off = item({
      ...{ observedAt: iso(now - years - 600_000), clockAhead: years },
      ...{ keptAt: iso(now - years), packAt: iso(now - 3_600_000) },
    });
    expect(await keep(off)).toEqual({ outcome: "saved" });
    expect(await row(off.id)).toMatchObject({ observed_at: new Date(now - 600_000) });
    expect(await keep(item({ clockAhead: Number.MAX_SAFE_INTEGER }))).toMatchObject({ outcome: "refused" });
  });

  it("waits for its own person where another one has signed in on the device meanwhile", async () => {
    const made = item();
    const sent = (by: string) =>
      noor.get("/recording/keep", {
        method: "POST",
        body: JSON.stringify(made),
        headers: { "Content-Type": "application/json", Origin: noor.origin, "Recorded-By": by },
      });
    const of = async (answer: Response) => ({
      status: answer.status,
      body: (await answer.json()) as unknown,
    });
    expect(await of(await sent(demo.person("teo").personId))).toEqual({
      status: 401,
      body: { kind: "signed-out" },
    });
    expect(await row(made.id)).toBeUndefined();
    expect(await of(await sent(demo.person("noor").personId))).toMatchObject({ body: { outcome: "saved" } });
  });

  it("may say that nothing was measured, and why; twice is once", async () => {
    const { studentId, goalId, ...common } = item();
    const made = {
      ...common,
      studentId,
      goalId,
      kind: "not measured",
      reason: "refused",
      note: "left the room",
    };
    expect([await keep(made), await keep(made)]).toEqual([{ outcome: "saved" }, { outcome: "already" }]);
    const page = await (await noor.get(`/students/${studentId}`)).text();
    expect(page).toContain("Two-digit subtraction: not measured, refused.");
    expect(page).toContain("left the room");
    const absent = {
      ...item({ studentId: demo.student("Lumi"), goalId: demo.goal("Lumi", "1") }),
      kind: "absent",
    };
    expect([await keep(absent), await keep(absent)]).toEqual([{ outcome: "saved" }, { outcome: "saved" }]);
    expect(
      await db
        .owner("absences")
        .where({ student_id: demo.student("Lumi"), absent_on: absent.observedAt.slice(0, 10) }),
    ).toHaveLength(1);
  });

  it("is taken back right after it was saved, as its own page removes it; what was corrected meanwhile stays", async () => {
    const undo = (of: string, one: { id: string; studentId: string; observedAt: string }) => ({
      ...{ format: 1, kind: "take back", id: newId(), studentId: one.studentId },
      ...{ observedAt: one.observedAt, clockAhead: 0, of, thingId: one.id },
    });
    const saved = { outcome: "saved" };
    const already = { outcome: "already" };
    const entry = item();
    const note = { ...item(), kind: "not measured", reason: "refused" };
    const incident = incidentItem(demo);
    const absent = {
      ...item({ studentId: demo.student("Yara"), goalId: demo.goal("Yara", "1") }),
      kind: "absent",
    };
    for (const [of, one] of [
      ["entry", entry],
      ["not measured", note],
      ["incident", incident],
      ["absent", absent],
    ] as const) {
      // Nothing is there yet: nothing is left to take back.
      expect(await keep(undo(of, one))).toEqual(of === "absent" ? saved : already);
      expect(await keep(one)).toEqual(saved);
      expect(await keep(undo(of, one))).toEqual(saved);
      // Sent twice, and the thing itself sent again by a device that did not hear: it stays taken back.
      expect(await keep(undo(of, one))).toEqual(of === "absent" ? saved : already);
    }
    expect(await keep(entry)).toEqual(already);
    expect((await row(entry.id))?.["state"]).toBe("removed");
    expect(await db.owner("incidents").where({ incident_id: incident.id }).pluck("state")).toEqual([
      "removed",
    ]);
    expect(await db.owner("not_measured").where({ note_id: note.id }).whereNull("removed_at")).toEqual([]);
    expect(
      await db
        .owner("absences")
        .where({ student_id: demo.student("Yara"), absent_on: absent.observedAt.slice(0, 10) }),
    ).toEqual([]);
    const acts = await db
      .owner("revisions")
      .where({ thing: "entry", thing_id: entry.id })
      .orderBy("revision")
      .pluck("act");
    expect(acts).toEqual(["made", "removed"]);

    const corrected = item();
    expect(await keep(corrected)).toEqual(saved);
    await db.owner("entries").where({ entry_id: corrected.id }).update({ revision: 2 });
    expect(await keep(undo("entry", corrected))).toMatchObject({
      outcome: "refused",
      why: "It was corrected in the meantime, so it stays. Remove it on its own page.",
    });
    // Another adult's line is not theirs to take back; who is outside the circle finds nothing.
    const theirs = item();
    expect(await keep(theirs)).toEqual(saved);
    expect(await (await send(teo, "/recording/keep", undo("entry", theirs))).json()).toMatchObject({
      outcome: "not allowed",
    });
    expect((await send(gus, "/recording/keep", undo("entry", theirs))).status).toBe(404);
    expect((await row(theirs.id))?.["state"]).toBe("kept");
  });

  it("is not found outside the circle, and asks for a sign-in before all", async () => {
    expect((await send(gus, "/recording/keep", item())).status).toBe(404);
    const other = { ...item(), kind: "not measured", reason: "refused", goalId: demo.goal("Otis", "1b") };
    expect((await send(noor, "/recording/keep", other)).status).toBe(404);
    const nobody = await fetch(`${web.url}/recording/keep`, {
      method: "POST",
      redirect: "manual",
      body: JSON.stringify(item()),
      headers: { "Content-Type": "application/json", Origin: web.url },
    });
    expect(nobody.status).toBe(401);
  });
});

describe("what a device is given", () => {
  const open = async (who: Visitor, deviceId: string) =>
    (await send(who, "/recording/pack", { deviceId })).json() as Promise<{
      key?: string;
      forgotten?: true;
      pack: {
        students: { screenName: string; goals: { title: string; dueOn: string[] }[] }[];
        groups: unknown[];
      };
    }>;

  it("is the same key each time, another one for another person or device, and none once it is forgotten", async () => {
    const device = newId();
    const [first, again, other, elsewhere] = [
      await open(noor, device),
      await open(noor, device),
      await open(gus, device),
      await open(noor, newId()),
    ];
    expect(first.key).toHaveLength(44);
    expect(again.key).toBe(first.key);
    expect(new Set([first.key, other.key, elsewhere.key]).size).toBe(3);
    const page = await (await noor.get("/devices")).text();
    expect(page).toContain("A browser on a device");
    const forget = { intent: "forget", deviceId: device };
    expect((await noor.post("/devices", forget)).status).toBe(302);
    expect(await open(noor, device)).toEqual({ forgotten: true });
    // Only one's own: the other person's stays.
    expect((await open(gus, device)).key).toBe(other.key);
    expect(await db.owner("device_keys").where({ device_id: device }).whereNull("key")).toHaveLength(1);
  });

  it("names no child and holds only those for whom the person records", async () => {
    const { pack } = await open(noor, newId());
    expect(pack.students).toHaveLength(14);
    const text = JSON.stringify(pack);
    expect(text).not.toMatch(/Abara|Fairweather/);
    expect(JSON.stringify(pack.students.map(({ goals }) => goals))).not.toMatch(/Wren|Otis/);
    expect(pack.students.some(({ goals }) => goals.some(({ dueOn }) => dueOn.length > 0))).toBe(true);
    const fewer = (await open(gus, newId())).pack;
    expect(fewer.students.length).toBeLessThan(14);
    await db
      .owner("circle")
      .where({ person_id: demo.person("gus").personId })
      .update({ part: "read" });
    expect((await open(gus, newId())).pack.students).toEqual([]);
  });
});
