import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openThrowaway } from "#tests/database.ts";
import { listLate } from "#server/db/late-presses.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import { keep, recordedItem, send } from "#tests/recorded.ts";
import { signedIn, type Visitor } from "#tests/session.ts";
import { startWebServer, type WebServer } from "#tests/web-server.ts";
import { testNow } from "#tests/clock.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let web: WebServer;
let demo: DemoIds;
let noor: Visitor;
let teo: Visitor;
let gus: Visitor;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  web = await startWebServer(db.appUrl);
  [noor, teo, gus] = await Promise.all([
    signedIn(web.url, "noor"),
    signedIn(web.url, "teo"),
    signedIn(web.url, "gus"),
  ]);
});
afterAll(async () => {
  await web.stop();
  await db.close();
});

const saved = { outcome: "saved" };
const already = { outcome: "already" };
const json = async <T>(answer: Promise<Response>) => (await answer).json() as Promise<T>;
const text = async (who: Visitor, path: string) => {
  const page = await (await who.get(path, { redirect: "follow" })).text();
  return page.replaceAll("\u00a0", " ").replaceAll("<!-- -->", "");
};
const row = (id: string) => db.owner<Record<string, unknown>>("entries").where({ entry_id: id }).first();
const now = (who: Visitor, open: unknown[] = []) =>
  json<{
    tallies: { goalId: string; on: string; presses: { by: string; back: boolean }[] }[];
    sittings: { sittingId: string; name: string; goals: unknown[] }[];
  }>(send(who, "/recording/now", { deviceId: newId(), open }));

/** One thing that a device says of the day's tally of Caspian's call-outs. `at` is `HH:MM` of the school, an hour of winter. */
const tallied = (day: string, kind: string, at: string, more: Record<string, unknown> = {}) => ({
  format: 1,
  kind: `tally ${kind}`,
  id: newId(),
  studentId: demo.student("Caspian"),
  goalId: demo.goal("Caspian", "2"),
  observedAt: `${day}T${at}:00.000Z`,
  clockAhead: 0,
  ...more,
});
const closing = (day: string, from: string, to: string, more: Record<string, unknown> = {}) =>
  tallied(day, "close", "21:00", {
    on: day,
    seenFrom: `${day}T${from}`,
    seenTo: `${day}T${to}`,
    setting: null,
    note: null,
    ...more,
  });

describe("an all-day tally", () => {
  it("adds the presses of several people, each once, and closes into one entry", async () => {
    const day = "2026-11-16";
    const first = tallied(day, "press", "15:00");
    expect(await keep(noor, tallied(day, "open", "14:30"))).toEqual(saved);
    expect([await keep(noor, first), await keep(noor, first)]).toEqual([saved, already]);
    const wrong = tallied(day, "press", "16:00");
    expect([await keep(teo, wrong), await keep(teo, tallied(day, "press", "17:00"))]).toEqual([saved, saved]);
    const back = tallied(day, "back", "16:01", { pressId: wrong.id });
    expect([await keep(teo, back), await keep(teo, back)]).toEqual([saved, already]);

    const open = (await now(teo)).tallies.filter(({ on }) => on === day);
    expect(open).toMatchObject([{ goalId: demo.goal("Caspian", "2") }]);
    expect(open[0]?.presses.map((press) => [press.by, press.back])).toEqual([
      ["N. Halloran", false],
      ["T. Brandvold", true],
      ["T. Brandvold", false],
    ]);
    const { rows } = await db.owner.raw<{ rows: { zone: string }[] }>(
      "select time_zone as zone from schools where school_id = ?",
      [demo.schoolId],
    );
    const local = (at: string) =>
      new Intl.DateTimeFormat("sv-SE", { timeZone: rows[0]?.zone, timeStyle: "short" }).format(
        new Date(`${day}T${at}:00Z`),
      );
    const close = closing(day, local("14:30"), local("18:30"), { note: "assembly in the morning" });
    expect([await keep(noor, close), await keep(teo, closing(day, "08:00", "09:00"))]).toEqual([
      saved,
      already,
    ]);
    expect(await row(close.id)).toMatchObject({
      entry: { kind: "count", count: 2, observedSeconds: 14_400, atSeconds: [1800, 9000] },
      observed_at: new Date(`${day}T14:30:00Z`),
      note: "assembly in the morning",
    });
    expect((await now(noor)).tallies.filter(({ on }) => on === day)).toEqual([]);
    const page = await text(noor, `/students/${demo.student("Caspian")}/entries/${close.id}`);
    expect(page).toContain("T. Brandvold");
    expect(page).toContain("taken back");
  });

  it("takes a press that arrives late, says so, and leaves alone what a person corrected", async () => {
    const day = "2026-11-17";
    const press = tallied(day, "press", "15:00");
    const close = closing(day, "07:00", "15:00");
    // The press alone opens the tally: its opening may have been lost with another device.
    for (const item of [press, close]) expect(await keep(noor, item)).toEqual(saved);
    expect(await keep(teo, tallied(day, "press", "15:30"))).toEqual(saved);
    expect(await row(close.id)).toMatchObject({ entry: { count: 2 }, revision: 2 });
    expect(await db.owner("revisions").where({ thing_id: close.id }).orderBy("revision")).toMatchObject([
      { revision: 1 },
      { reason: "A press of the all-day tally arrived after it was closed." },
    ]);
    expect(await keep(noor, tallied(day, "back", "16:00", { pressId: press.id }))).toEqual(saved);
    expect(await row(close.id)).toMatchObject({ entry: { count: 1 }, revision: 3 });

    const path = `/students/${demo.student("Caspian")}/entries/${close.id}`;
    const corrected = await noor.post(path, {
      intent: "correct",
      revision: "3",
      observedAt: `${day}T09:00`,
      count: "7",
      minutes: "60",
      seconds: "0",
      purpose: "probe",
      reason: "counted from the video",
    });
    expect(corrected.status).toBe(302);
    expect(await row(close.id)).toMatchObject({ entry: { count: 7 }, revision: 4 });
    expect(await keep(teo, tallied(day, "press", "15:45"))).toEqual(saved);
    expect(await row(close.id)).toMatchObject({ entry: { count: 7 }, revision: 4 });
  });

  it("closed for good, or later than the school lets presses be, changes by the lead's yes only", async () => {
    const [day, old] = ["2026-11-20", "2026-10-05"];
    const studentId = demo.student("Caspian");
    const [press, close] = [tallied(day, "press", "16:00"), closing(day, "07:00", "15:00")];
    const [oldPress, oldClose] = [tallied(old, "press", "16:00"), closing(old, "07:00", "15:00")];
    for (const item of [press, close, oldPress, oldClose]) expect(await keep(noor, item)).toEqual(saved);
    const path = (entryId: string) => `/students/${studentId}/entries/${entryId}`;
    const say = async (who: Visitor, entryId: string, intent: string) =>
      (await who.post(path(entryId), { intent })).status;
    // Only the lead closes it for good.
    expect(await say(teo, close.id, "settle")).toBe(403);
    expect(await say(noor, close.id, "settle")).toBe(302);
    for (const [entry, on] of [
      [close, day],
      [oldClose, old],
    ] as const) {
      const late = tallied(on, "press", "16:30");
      expect([await keep(teo, late), await keep(teo, late)]).toEqual([saved, already]);
      expect(await row(entry.id)).toMatchObject({ entry: { count: 1 }, revision: 1 });
    }
    const waits = (who: "noor" | "teo") =>
      inScope(db.app, demo.person(who), null, (scope) => listLate(scope));
    expect(await waits("noor")).toMatchObject([
      { on: old, entryId: oldClose.id, more: 1, fewer: 0, by: ["T. Brandvold"] },
      { on: day, entryId: close.id, more: 1, fewer: 0 },
    ]);
    expect(await waits("teo")).toEqual([]);
    expect(await text(noor, "/today")).toContain("Late presses of closed tallies");
    // Nobody but the lead answers; her yes is a correction, her no leaves the entry as it is.
    expect(await say(teo, close.id, "late yes")).toBe(403);
    expect(await say(noor, close.id, "late yes")).toBe(302);
    expect(await row(close.id)).toMatchObject({ entry: { count: 2 }, revision: 2 });
    expect(await say(noor, oldClose.id, "late no")).toBe(302);
    expect(await row(oldClose.id)).toMatchObject({ entry: { count: 1 }, revision: 1 });
    expect(await waits("noor")).toEqual([]);
    // A press taken back late still counts until her yes; one that waits itself is gone at once.
    const back = tallied(day, "back", "16:40", { pressId: press.id });
    expect([await keep(noor, back), await keep(noor, back)]).toEqual([saved, already]);
    expect(await row(close.id)).toMatchObject({ entry: { count: 2 }, revision: 2 });
    const gone = tallied(day, "press", "16:45");
    for (const item of [gone, tallied(day, "back", "16:46", { pressId: gone.id })])
      expect(await keep(teo, item)).toEqual(saved);
    expect(await waits("noor")).toMatchObject([{ more: 0, fewer: 1, by: ["N. Halloran"] }]);
    expect(await say(noor, close.id, "late yes")).toBe(302);
    expect(await row(close.id)).toMatchObject({ entry: { count: 1 }, revision: 3 });
    // Let in again, a press counts by itself; where a person has corrected the entry since, a yes is not taken.
    expect(await say(noor, close.id, "let in")).toBe(302);
    expect(await keep(teo, tallied(day, "press", "16:50"))).toEqual(saved);
    expect(await row(close.id)).toMatchObject({ entry: { count: 2 }, revision: 4 });
    expect(await say(noor, close.id, "settle")).toBe(302);
    expect(await keep(teo, tallied(day, "press", "16:55"))).toEqual(saved);
    await noor.post(path(close.id), {
      ...{ intent: "correct", revision: "4", observedAt: `${day}T09:00`, purpose: "probe", reason: "" },
      ...{ count: "9", minutes: "60", seconds: "0" },
    });
    expect(await say(noor, close.id, "late yes")).toBe(422);
    expect(await waits("noor")).toMatchObject([{ more: 1 }]);
    expect(await row(close.id)).toMatchObject({ entry: { count: 9 }, revision: 5 });
  });

  it("is for counts, for the circle, and for presses that are there", async () => {
    const day = "2026-11-18";
    const other = { goalId: demo.goal("Wren", "2b"), studentId: demo.student("Wren") };
    expect(await keep(noor, tallied(day, "open", "15:00", other))).toMatchObject({
      outcome: "refused",
      why: /not a count/,
    });
    expect(await keep(noor, tallied(day, "back", "15:00", { pressId: newId() }))).toMatchObject({
      outcome: "refused",
      why: /has not arrived/,
    });
    const mine = tallied(day, "press", "15:05");
    expect(await keep(noor, mine)).toEqual(saved);
    expect(await keep(teo, tallied(day, "back", "15:06", { pressId: mine.id }))).toMatchObject({
      outcome: "refused",
      why: /only who made it/,
    });
    expect((await send(gus, "/recording/keep", tallied(day, "press", "15:00", other))).status).toBe(404);
    await keep(noor, tallied(day, "open", "15:00"));
    expect(await keep(noor, closing(day, "11:00", "10:00"))).toMatchObject({
      outcome: "refused",
      why: /after its beginning/,
    });
    expect((await now(gus)).tallies).toEqual([]);
  });
});

describe("a tablet handed over", () => {
  const handOver = (who: Visitor, personId: string, pin: string) =>
    json<{ handoverId?: string; why?: string }>(send(who, "/recording/hand-over", { personId, pin }));
  const observer = (key: Parameters<DemoIds["person"]>[0], handoverId: string | null) => ({
    personId: demo.person(key).personId,
    handoverId,
  });
  /** Something observed now: a PIN is of today. */
  const made = (by: ReturnType<typeof observer>) => ({
    ...recordedItem(demo, { observedAt: new Date(testNow()).toISOString() }),
    observer: by,
  });
  const whose = async (id: string) => {
    const { author_id, observer_id } = (await row(id)) ?? {};
    return [author_id, observer_id];
  };

  it("records for whoever gave their PIN, who may do there what they may do anywhere", async () => {
    const pins = (pin: string) => teo.post("/devices", { intent: "set the PIN", pin });
    expect((await pins("1234")).status).toBe(422);
    expect((await pins("73a1")).status).toBe(422);
    expect((await pins("7319")).status).toBe(302);
    const { personId } = demo.person("teo");
    expect(await handOver(noor, personId, "7318")).toMatchObject({ why: /not their PIN/ });
    const refused = await db.owner("audit").where({ thing: "pin", act: "refused" });
    expect(refused).toMatchObject([{ thing_id: personId, person_id: demo.person("noor").personId }]);
    const { handoverId = "" } = await handOver(noor, personId, "7319");
    const theirs = made(observer("teo", handoverId));
    expect(await keep(noor, theirs)).toEqual(saved);
    expect(await whose(theirs.id)).toEqual([personId, null]);
    // The row and its history say on whose device, and by which hand-over.
    const sender = { handover_id: handoverId, sent_by: demo.person("noor").personId };
    expect(await row(theirs.id)).toMatchObject(sender);
    expect(await db.owner("revisions").where({ thing_id: theirs.id })).toMatchObject([
      { ...sender, person_id: personId },
    ]);
    expect(await text(teo, `/students/${demo.student("Wren")}/entries/${theirs.id}`)).toContain(
      "recorded on N. Halloran’s device",
    );
    const own = made({ ...observer("noor", null) });
    expect(await keep(noor, own)).toEqual(saved);
    expect(await row(own.id)).toMatchObject({ handover_id: null, sent_by: null });
    // Only on the device it was given on, and only for who gave it.
    expect(await keep(noor, made(observer("ines", handoverId)))).toMatchObject({ outcome: "refused" });
    expect(await keep(teo, made(observer("ines", handoverId)))).toMatchObject({ outcome: "refused" });
    const old = { ...theirs, id: newId(), observedAt: "2026-11-01T15:00:00.000Z" };
    expect(await keep(noor, old)).toMatchObject({ outcome: "refused", why: /too long ago/ });
  });

  it("ends when the other changes their PIN: what was marked before it counts, and nothing after it", async () => {
    const { personId } = demo.person("ines");
    const setPin = async (pin: string) =>
      expect(
        (await (await signedIn(web.url, "ines")).post("/devices", { intent: "set the PIN", pin })).status,
      ).toBe(302);
    await setPin("2846");
    const { handoverId = "" } = await handOver(noor, personId, "2846");
    const before = made(observer("ines", handoverId));
    await new Promise((resolve) => setTimeout(resolve, 1100));
    await setPin("9351");
    await new Promise((resolve) => setTimeout(resolve, 1100));
    const after = made(observer("ines", handoverId));
    expect(await keep(noor, before)).toEqual(saved);
    expect(await keep(noor, after)).toMatchObject({ outcome: "refused", why: /too long ago/ });
  });

  it("ends when the device is given back, or by who took it over, and by nobody else", async () => {
    const { personId } = demo.person("teo");
    const taken = async () => (await handOver(noor, personId, "7319")).handoverId ?? "";
    const later = () => new Promise((resolve) => setTimeout(resolve, 1100));
    const ended = async (handoverId: string, end: () => Promise<unknown>) => {
      const before = made(observer("teo", handoverId));
      await later();
      await end();
      await later();
      expect(await keep(noor, before)).toEqual(saved);
      expect(await keep(noor, made(observer("teo", handoverId)))).toMatchObject({ outcome: "refused" });
    };
    const back = await taken();
    await send(gus, "/recording/hand-over", { end: back });
    expect(await keep(noor, made(observer("teo", back)))).toEqual(saved);
    await ended(back, () => send(noor, "/recording/hand-over", { end: back }));

    const other = await taken();
    expect(await text(teo, "/devices")).toMatch(new RegExp(`N. Halloran’s device.*${other}`, "s"));
    await ended(other, () => teo.post("/devices", { intent: "end", handoverId: other }));
    expect(await text(teo, "/devices")).not.toContain(other);
    const acts = await db
      .owner("audit")
      .where({ thing: "device", thing_id: personId })
      .orderBy("audit_id")
      .pluck("act");
    expect(acts.filter((act) => act === "given back")).toHaveLength(2);
  });

  it("stays the signed-in person’s for students whom the other may not see", async () => {
    expect((await gus.post("/devices", { intent: "set the PIN", pin: "6042" })).status).toBe(302);
    const { handoverId = "" } = await handOver(noor, demo.person("gus").personId, "6042");
    expect(await keep(noor, made(observer("gus", handoverId)))).toMatchObject({
      outcome: "refused",
      why: /G. Lindqvist may not record for this student/,
    });
  });

  it("names who watched where no PIN was given, and says who wrote it", async () => {
    const named = made(observer("teo", null));
    expect(await keep(noor, named)).toEqual(saved);
    expect(await whose(named.id)).toEqual([demo.person("noor").personId, demo.person("teo").personId]);
    expect(await text(noor, `/students/${demo.student("Wren")}/entries/${named.id}`)).toContain(
      "T. Brandvold, written by N. Halloran",
    );
    // Nobody, and somebody of the school who works with none of the same students.
    for (const personId of [newId(), demo.person("desmond").personId])
      expect((await send(noor, "/recording/keep", made({ personId, handoverId: null }))).status).toBe(404);
  });

  it("takes five wrong PINs, then none for a while, the right one included", async () => {
    const { personId } = demo.person("gus");
    for (let tries = 0; tries < 5; tries += 1) await handOver(teo, personId, "0000");
    expect(await handOver(teo, personId, "6042")).toMatchObject({ why: /Too many tries/ });
    expect(await handOver(noor, demo.person("ines").personId, "4711")).toMatchObject({
      why: /not their PIN/,
    });
    expect(await handOver(noor, personId, "letters")).toMatchObject({ why: /4 to 8 digits/ });
  });
});

describe("a second observer", () => {
  const second = (change: Record<string, unknown>) => ({
    ...recordedItem(demo),
    kind: "second",
    withSittingId: null,
    ...change,
  });
  const shownTwice = () => text(noor, `/students/${demo.student("Wren")}/goals/${demo.goal("Wren", "2b")}`);

  it("hears of a sitting only in the circle, and until it is over", async () => {
    const sitting = {
      sittingId: newId(),
      startedAt: new Date(testNow()).toISOString(),
      goals: [
        { studentId: demo.student("Wren"), goalId: demo.goal("Wren", "2b") },
        { studentId: demo.student("Malik"), goalId: demo.goal("Malik", "2") },
      ],
    };
    const deviceId = newId();
    const tell = (open: unknown[]) => send(noor, "/recording/now", { deviceId, open });
    await tell([sitting]);
    const heard = async (who: Visitor) =>
      (await now(who)).sittings.filter(({ sittingId }) => sittingId === sitting.sittingId);
    expect(await heard(teo)).toMatchObject([{ name: "N. Halloran", goals: sitting.goals }]);
    expect(await heard(noor)).toEqual([]);
    expect(await heard(gus)).toMatchObject([{ goals: sitting.goals.slice(1) }]);
    await tell([]);
    expect(await heard(teo)).toEqual([]);
    expect((await send(noor, "/recording/now", { deviceId: "x", open: [] })).status).toBe(404);
  });

  it("is compared mark by mark with the sitting that was joined, and never counted", async () => {
    const counted = () => db.owner("entries").where({ goal_id: demo.goal("Wren", "2b") });
    const first = recordedItem(demo, { observedAt: "2026-11-19T15:00:00.000Z" });
    const beside = second({
      observedAt: "2026-11-19T15:00:20.000Z",
      withSittingId: first.sittingId,
      entry: { kind: "trials", correct: 1, attempted: 3, sequence: "100" },
    });
    expect([await keep(teo, beside), await keep(teo, beside)]).toEqual([saved, already]);
    expect(await keep(teo, { ...beside, note: "else" })).toMatchObject({ outcome: "refused" });
    const before = (await counted()).length;
    expect(await text(noor, `/students/${demo.student("Wren")}/beside/${beside.id}`)).toContain(
      "Not compared yet",
    );
    await keep(noor, first);
    expect(await counted()).toHaveLength(before + 1);
    const page = await text(noor, `/students/${demo.student("Wren")}/beside/${beside.id}`);
    // (3 − 1) of 3 trials alike: percent agreement, Cooper, Heron & Heward (2020), ch. 5.
    expect(page).toContain("67% trial by trial, 3 units");
    expect(page).toContain("Cohen’s kappa");
    expect(await shownTwice()).toContain("67% trial by trial");
    expect((await send(gus, "/recording/keep", beside)).status).toBe(404);
  });

  it("without a network is matched by its time, with another person’s entry only", async () => {
    const first = recordedItem(demo, { observedAt: "2026-11-18T15:00:00.000Z" });
    await keep(noor, first);
    const beside = second({ observedAt: "2026-11-18T15:04:00.000Z" });
    const own = second({ observedAt: "2026-11-18T15:05:00.000Z" });
    const far = second({ observedAt: "2026-11-18T19:05:00.000Z" });
    expect([await keep(teo, beside), await keep(noor, own), await keep(teo, far)]).toEqual([
      saved,
      saved,
      saved,
    ]);
    const pageOf = (id: string) => text(noor, `/students/${demo.student("Wren")}/beside/${id}`);
    expect(await pageOf(beside.id)).toContain("100% trial by trial");
    for (const { id } of [own, far]) expect(await pageOf(id)).toContain("Not compared yet");
    // Written down by the first observer for the second, whom no PIN shows: theirs all the same.
    const named = second({
      observedAt: "2026-11-18T15:06:00.000Z",
      observer: { personId: demo.person("ines").personId, handoverId: null },
    });
    expect(await keep(noor, named)).toEqual(saved);
    expect(await pageOf(named.id)).toContain("100% trial by trial");
    const removed = await noor.post(`/students/${demo.student("Wren")}/beside/${beside.id}`, {});
    expect(removed.status).toBe(302);
    expect((await noor.get(`/students/${demo.student("Wren")}/beside/${beside.id}`)).status).toBe(404);
    expect(await db.owner("second_observations").where({ observation_id: beside.id })).toHaveLength(1);
  });
});

describe("what was not measured", () => {
  it("is corrected, removed and put back, with its history", async () => {
    const made = { ...recordedItem(demo), kind: "not measured", reason: "refused" };
    await keep(noor, made);
    const path = `/students/${demo.student("Wren")}/not-measured/${made.id}`;
    const correction = {
      ...{ intent: "correct", seen: "1", reason: "interrupted" },
      ...{ note: "fire drill", why: "it was the drill" },
    };
    expect((await noor.post(path, correction)).status).toBe(302);
    const page = await text(noor, path);
    for (const said of ["fire drill", "it was the drill", "not measured, refused", "Corrected"])
      expect(page).toContain(said);
    // What stands no more cannot be changed from a page that still shows it, and the device may send it again.
    expect((await noor.post(path, { intent: "remove", seen: "1", why: "" })).status).toBe(409);
    expect(await keep(noor, made)).toEqual(already);
    expect((await noor.post(path, { intent: "remove", seen: "2", why: "twice" })).status).toBe(302);
    expect(await text(noor, path)).toContain("Reason: twice");
    expect(await text(noor, `/students/${demo.student("Wren")}`)).not.toContain("fire drill");
    expect((await noor.post(path, { intent: "restore" })).status).toBe(302);
    expect(await text(noor, `/students/${demo.student("Wren")}`)).toContain("fire drill");
    // Written by the case manager: an aide may read it and not change it.
    expect((await teo.post(path, { intent: "remove", seen: "4", why: "" })).status).toBe(403);
  });
});
