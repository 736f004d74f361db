import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, draft, inScope } from "#tests/demo-school.ts";
import { saveEntry } from "../db/entries.ts";
import { recordEvents } from "../db/events.ts";
import { type Notice, openFanOut } from "./fan-out.ts";
import { openHub } from "./hub.ts";
import { liveStream, type View } from "./stream.ts";
import { openStreams } from "./streams-of-session.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
});
afterAll(() => db.close());

describe("the hub", () => {
  it("hears of a save once it is committed, by ids only, and of a gap when its connection was cut", async () => {
    const hub = openHub(db.appUrl, { retryAfter: 20 });
    const changed: string[] = [];
    let gaps = 0;
    const following = hub.follow(demo.schoolId, demo.person("ines").personId, {
      onChange: (studentId) => changed.push(studentId),
      onOwnChange: () => undefined,
      onGap: () => (gaps += 1),
      onClose: () => undefined,
    });
    const ids = { studentId: demo.student("Elowen"), goalId: demo.goal("Elowen", "1") };
    following.hearOf([ids.studentId]);
    await vi.waitFor(() => expect(hub.isListening()).toBe(true));
    const began = Date.now();
    const save = () =>
      inScope(db.app, demo.person("noor"), ids.studentId, (scope) => saveEntry(scope, draft(ids), ids));
    await save();
    await vi.waitFor(() => expect(changed).toEqual([ids.studentId]));
    expect(hub.heardSince(demo.schoolId, began)).toEqual([
      { school: demo.schoolId, students: [ids.studentId], persons: [] },
    ]);
    const before = gaps;
    await db.app.raw(
      "select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and query ilike 'listen%'",
    );
    await vi.waitFor(() => expect(gaps).toBe(before + 1), { timeout: 5000 });
    // What happened while it was cut is not known.
    expect(hub.heardSince(demo.schoolId, began)).toBeNull();
    await save();
    await vi.waitFor(() => expect(changed.length).toBe(2));
    await hub.close();
  });

  it("is notified once by a transaction, with all students and persons it is about", async () => {
    const hub = openHub(db.appUrl);
    await vi.waitFor(() => expect(hub.isListening()).toBe(true));
    const began = Date.now();
    const [noor, ines] = [demo.person("noor"), demo.person("ines").personId];
    const students = [demo.student("Elowen"), demo.student("Rafi")];
    await inScope(db.app, noor, null, async (scope) => {
      const event = (studentId: string) =>
        ({ thing: "circle", act: "changed", thingId: ines, studentId }) as const;
      await recordEvents(scope, students.map(event));
      await recordEvents(scope, students.map(event));
    });
    await vi.waitFor(() => expect(hub.heardSince(demo.schoolId, began)).not.toEqual([]));
    expect(hub.heardSince(demo.schoolId, began)).toEqual([
      { school: demo.schoolId, students, persons: [ines] },
    ]);
    // More ids than one payload of PostgreSQL holds come in several.
    const many = Array.from({ length: 400 }, () => newId());
    const beganMany = Date.now();
    await inScope(db.app, noor, null, (scope) =>
      recordEvents(
        scope,
        many.map((thingId) => ({ thing: "person", act: "saved", thingId, studentId: null }) as const),
      ),
    );
    await vi.waitFor(() =>
      expect(hub.heardSince(demo.schoolId, beganMany)?.flatMap(({ persons }) => persons)).toEqual(many),
    );
    await hub.close();
  });
});

describe("the fan-out", () => {
  const listener = () => {
    const heard: string[] = [];
    return {
      heard,
      onChange: (studentId: string) => heard.push(studentId),
      onOwnChange: () => heard.push("own"),
      onGap: () => heard.push("gap"),
      onClose: () => heard.push("close"),
    };
  };
  const notice = (students: string[], persons: string[] = [], school = "s") => ({
    school,
    students,
    persons,
  });

  it("tells those who follow a student or are the person, and nobody else", () => {
    const fanOut = openFanOut();
    const [one, other, elsewhere] = [listener(), listener(), listener()];
    const following = fanOut.follow("s", "one", one);
    following.hearOf(["a", "b"]);
    fanOut.follow("s", "other", other).hearOf(["b"]);
    fanOut.follow("t", "one", elsewhere).hearOf(["a", "b"]);
    fanOut.hear(notice(["a"], ["other"]));
    fanOut.hear(notice(["b"]));
    following.hearOf(["c"]);
    fanOut.hear(notice(["a", "b", "c"]));
    following.end();
    following.hearOf(["c"]);
    fanOut.hear(notice(["c"], ["one"]));
    expect([one.heard, other.heard, elsewhere.heard]).toEqual([["a", "b", "c"], ["own", "b", "b"], []]);
  });

  it("knows what was heard in the last two minutes, and of longer ago that it does not know", () => {
    vi.useFakeTimers({ toFake: ["Date"] });
    try {
      const fanOut = openFanOut();
      const begins = Date.now();
      expect(fanOut.heardSince("s", begins)).toBeNull();
      fanOut.begin();
      const first = notice(["a"]);
      fanOut.hear(first);
      fanOut.hear(notice(["b"], [], "another school"));
      expect(fanOut.heardSince("s", begins)).toEqual([first]);
      expect(fanOut.heardSince("s", begins - 1)).toBeNull();
      vi.setSystemTime(begins + 121_000);
      const second = notice(["b"]);
      fanOut.hear(second);
      expect(fanOut.heardSince("s", begins)).toBeNull();
      expect(fanOut.heardSince("s", begins + 1000)).toEqual([second]);
      fanOut.stop();
      expect(fanOut.heardSince("s", begins + 121_000)).toBeNull();
    } finally {
      vi.useRealTimers();
    }
  });
});

describe("a stream", () => {
  type Answer = View | null | Error;
  /** A viewer's stream on a fan-out of its own; `view` is what the viewer may be told, asked each time. */
  async function opened(
    view: () => Answer,
    { heartbeat = 60_000, sinceBegin = null as number | null, before = [] as Notice[] } = {},
  ) {
    const fanOut = openFanOut();
    fanOut.begin();
    const since = sinceBegin === null ? null : Date.now() + sinceBegin;
    before.forEach(fanOut.hear);
    const stop = new AbortController();
    let looks = 0;
    const answer = liveStream({
      ...{ hub: fanOut, since, schoolId: "s", personId: "me", session: newId() },
      look() {
        looks += 1;
        const now = view();
        return now instanceof Error ? Promise.reject(now) : Promise.resolve(now);
      },
      signal: stop.signal,
      pace: { message: 40, heartbeat },
    });
    const reader = answer.body?.pipeThrough(new TextDecoderStream()).getReader();
    const read = async () => (await reader?.read())?.value;
    /** The next event without its id, which is the moment of it. */
    const next = async () => {
      const text = await read();
      const [, id, event] = /^id: (\d+)\nevent: ([^]*)\n\n$/.exec(text ?? "") ?? [];
      if (event !== undefined) expect(Math.abs(Number(id) - Date.now())).toBeLessThan(60_000);
      return event ?? text;
    };
    expect(await read()).toBe("retry: 2000\n: welcome\n\n");
    const tell = (students: string[], { school = "s", persons = [] as string[] } = {}) =>
      fanOut.hear({ school, students, persons });
    return { fanOut, tell, next, stop, looks: () => looks };
  }
  const mine = (...students: string[]): View => ({ day: "2026-11-24", students });
  const changed = (...students: string[]) => `changed\ndata: ${JSON.stringify({ students })}`;
  const [resync, yours, beat] = ["resync\ndata: {}", "yours\ndata: {}", "beat\ndata: {}"];

  it("tells at most once a pace, of all students together, of those the viewer may read, and asks nothing", async () => {
    const { tell, next, stop, looks } = await opened(() => mine("a", "b"));
    tell(["a"]);
    expect(await next()).toBe(changed("a"));
    for (let count = 0; count < 50; count += 1) tell([count % 2 ? "b" : "secret"]);
    tell(["a"], { school: "another school" });
    expect(await next()).toBe(changed("b"));
    expect(looks()).toBe(1);
    stop.abort();
  });

  it("has the viewer whose own part changed read again at once, and from then on tells of what they may read then", async () => {
    let view = mine("mine", "gone");
    const { tell, next, stop } = await opened(() => view);
    view = mine("mine", "new");
    tell(["gone", "new"], { persons: ["another", "me"] });
    expect(await next()).toBe(yours);
    tell(["gone"], { persons: ["another"] });
    tell(["new"]);
    expect(await next()).toBe(changed("new"));
    stop.abort();
  });

  it("goes on from the moment of the page: what changed since is told, and nothing else", async () => {
    const before: Notice[] = [
      { school: "s", students: ["a", "secret"], persons: [] },
      { school: "another school", students: ["b"], persons: [] },
    ];
    const { next, stop, tell } = await opened(() => mine("a", "b"), { sinceBegin: 0, before });
    expect(await next()).toBe(changed("a"));
    tell(["b"]);
    expect(await next()).toBe(changed("b"));
    stop.abort();
    const fresh = await opened(() => mine("a"), { sinceBegin: 0 });
    fresh.tell(["a"]);
    expect(await fresh.next()).toBe(changed("a"));
    fresh.stop.abort();
    const tooOld = await opened(() => mine("a"), { sinceBegin: -1 });
    expect(await tooOld.next()).toBe(resync);
    tooOld.stop.abort();
    const part = { school: "s", students: [], persons: ["me"] };
    const own = await opened(() => mine("a"), { sinceBegin: 0, before: [part] });
    expect(await own.next()).toBe(yours);
    own.stop.abort();
  });

  it("beats while nothing happens, and ends with the session", async () => {
    let over = false;
    const { next } = await opened(() => (over ? null : mine()), { heartbeat: 15 });
    expect(await next()).toBe(beat);
    over = true;
    await vi.waitFor(async () => expect(await next()).toBeUndefined());
    expect(openStreams()).toBe(0);
  });

  it("has the page of a session that is over read again, which leads to the sign-in, and ends", async () => {
    let over = false;
    const { next, tell } = await opened(() => (over ? null : mine()));
    over = true;
    tell([], { persons: ["me"] });
    expect(await next()).toBe(yours);
    expect(await next()).toBeUndefined();
  });

  it("asks the viewer to read again when the school's day ends, with which parts begin and end", async () => {
    let view = mine("a");
    const { next, stop, tell } = await opened(() => view, { heartbeat: 15 });
    expect(await next()).toBe(beat);
    view = { day: "2026-11-25", students: ["b"] };
    const told: (string | undefined)[] = [];
    while (told.at(-1) === undefined || told.at(-1) === beat) told.push(await next());
    expect(told.at(-1)).toBe(resync);
    expect(told.length).toBeLessThan(20);
    // Once a day.
    for (let beats = 0; beats < 5; beats += 1) expect(await next()).toBe(beat);
    tell(["a", "b"]);
    while ((told.at(-1) ?? beat) === beat || told.at(-1) === resync) told.push(await next());
    expect(told.at(-1)).toBe(changed("b"));
    stop.abort();
  });

  it("lets go at once of a viewer who had left before it began", async () => {
    const answer = liveStream({
      ...{ hub: openFanOut(), since: null, schoolId: "s", personId: "me", session: newId() },
      look: () => Promise.resolve(mine()),
      signal: AbortSignal.abort(),
    });
    expect(await answer.text()).toContain("welcome");
    expect(openStreams()).toBe(0);
  });

  it("asks for everything to be read again after a gap, and once it can ask again what the viewer may read", async () => {
    const gap = await opened(() => mine());
    gap.fanOut.begin();
    expect(await gap.next()).toBe(resync);
    gap.stop.abort();
    let away = true;
    const { next, stop } = await opened(() => (away ? new Error("away") : mine("a")), { heartbeat: 15 });
    expect(await next()).toBe(beat);
    away = false;
    const told: (string | undefined)[] = [];
    while (told.at(-1) !== resync && told.length < 20) told.push(await next());
    expect(told.at(-1)).toBe(resync);
    stop.abort();
  });

  it("is one of ten of its session at most: the eldest ends, and other sessions keep theirs", async () => {
    const hub = openFanOut();
    hub.begin();
    const open = (session: string) =>
      liveStream({
        ...{ hub, since: null, schoolId: "s", personId: "me", session },
        look: () => Promise.resolve(mine()),
        signal: new AbortController().signal,
      });
    const other = open("other").body?.getReader();
    const own = Array.from({ length: 12 }, () => open("mine").body?.getReader());
    expect(openStreams()).toBe(11);
    // After its welcome one that was ended has nothing more, and another goes on.
    const ended = async (reader: typeof other) => {
      await reader?.read();
      const more = reader?.read().then(({ done }) => done) ?? Promise.resolve(true);
      return Promise.race([more, new Promise((resolve) => setTimeout(resolve, 20, "open"))]);
    };
    expect(await Promise.all(own.slice(0, 3).map(ended))).toEqual([true, true, "open"]);
    for (const reader of [other, ...own]) await reader?.cancel();
    expect(openStreams()).toBe(0);
  });
});
