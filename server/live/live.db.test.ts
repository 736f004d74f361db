import { afterAll, beforeAll, describe, expect, it, vi } from "vitest";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, draft, inScope } from "#tests/demo-school.ts";
import { saveEntry } from "../db/entries.ts";
import { type Hub, type Notice, openHub } from "./hub.ts";
import { liveStream } from "./stream.ts";

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
    const notices: Notice[] = [];
    let gaps = 0;
    hub.subscribe({
      onNotice: (notice) => notices.push(notice),
      onGap: () => (gaps += 1),
      onClose: () => undefined,
    });
    await vi.waitFor(() => expect(hub.isListening()).toBe(true));
    const ids = { studentId: demo.student("Elowen"), goalId: demo.goal("Elowen", "1") };
    const save = () =>
      inScope(db.app, demo.person("noor"), ids.studentId, (scope) => saveEntry(scope, draft(ids), ids));
    await save();
    await vi.waitFor(() =>
      expect(notices).toEqual([{ school: demo.schoolId, student: ids.studentId, persons: [] }]),
    );
    const before = gaps;
    await db.app.raw(
      "select pg_terminate_backend(pid) from pg_stat_activity where datname = current_database() and query ilike 'listen%'",
    );
    await vi.waitFor(() => expect(gaps).toBe(before + 1), { timeout: 5000 });
    await save();
    await vi.waitFor(() => expect(notices.length).toBe(2));
    await hub.close();
  });
});

describe("a stream", () => {
  function stubHub() {
    type Subscriber = Parameters<Hub["subscribe"]>[0];
    const subscribers = new Set<Subscriber>();
    const hub: Hub = {
      subscribe: (one) => (subscribers.add(one), () => subscribers.delete(one)),
      isListening: () => true,
      close: () => Promise.resolve(),
    };
    return {
      hub,
      subscribers,
      tell: (student: string, school = "s", persons: readonly string[] = []) =>
        subscribers.forEach((one) => one.onNotice({ school, student, persons })),
    };
  }
  async function opened(
    readable: (students: string[]) => Promise<string[] | null>,
    { heartbeat = 60_000, day = (): string | null => "2026-11-24" } = {},
  ) {
    const stub = stubHub();
    const stop = new AbortController();
    const answer = liveStream({
      session: crypto.randomUUID(),
      hub: stub.hub,
      schoolId: "s",
      personId: "me",
      readable,
      day: () => Promise.resolve(day()),
      signal: stop.signal,
      pace: { refresh: 40, heartbeat },
    });
    const reader = answer.body?.pipeThrough(new TextDecoderStream()).getReader();
    const next = async () => (await reader?.read())?.value;
    await next();
    return { ...stub, stop, next };
  }

  it("tells at most once a pace, of all students together, and only of those the viewer may read", async () => {
    const asked: string[][] = [];
    const { tell, next, stop } = await opened((students) => {
      asked.push(students);
      return Promise.resolve(students.filter((student) => student !== "secret"));
    });
    tell("a");
    expect(await next()).toBe('event: changed\ndata: {"students":["a"]}\n\n');
    for (let count = 0; count < 50; count += 1) tell(count % 2 ? "b" : "secret");
    tell("c", "another school");
    expect(await next()).toBe('event: changed\ndata: {"students":["b"]}\n\n');
    expect(asked).toEqual([["a"], ["secret", "b"]]);
    stop.abort();
  });

  it("says nothing at all when only others' students changed", async () => {
    const { tell, next, stop } = await opened((students) =>
      Promise.resolve(students.filter((student) => student === "mine")),
    );
    tell("secret");
    tell("mine");
    expect(await next()).toBe('event: changed\ndata: {"students":["mine"]}\n\n');
    stop.abort();
  });

  it("asks the viewer whose own part changed to read again, whatever they may still read, and nobody else", async () => {
    const { tell, next, stop } = await opened((students) =>
      Promise.resolve(students.filter((student) => student === "mine")),
    );
    tell("gone", "s", ["another", "me"]);
    expect(await next()).toBe("event: resync\ndata: {}\n\n");
    tell("gone", "s", ["another"]);
    tell("mine", "s", []);
    expect(await next()).toBe('event: changed\ndata: {"students":["mine"]}\n\n');
    stop.abort();
  });

  it("beats while nothing happens, and ends with the session", async () => {
    let over = false;
    const { next, subscribers } = await opened(() => Promise.resolve([]), {
      heartbeat: 15,
      day: () => (over ? null : "2026-11-24"),
    });
    expect(await next()).toBe(": still here\n\n");
    over = true;
    await vi.waitFor(async () => expect(await next()).toBeUndefined());
    expect(subscribers.size).toBe(0);
  });

  it("asks the viewer to read again when the school's day ends, with which parts begin and end", async () => {
    let today = "2026-11-24";
    const { next, stop } = await opened(() => Promise.resolve([]), { heartbeat: 15, day: () => today });
    expect(await next()).toBe(": still here\n\n");
    today = "2026-11-25";
    const told: (string | undefined)[] = [];
    while (!told.at(-1)?.startsWith("event")) told.push(await next());
    expect(told.at(-1)).toBe("event: resync\ndata: {}\n\n");
    expect(told.length).toBeLessThan(20);
    // Once a day.
    for (let beats = 0; beats < 5; beats += 1) expect(await next()).toBe(": still here\n\n");
    stop.abort();
  });

  it("lets go at once of a viewer who had left before it began", async () => {
    const { hub, subscribers } = stubHub();
    const answer = liveStream({
      session: crypto.randomUUID(),
      hub,
      schoolId: "s",
      personId: "me",
      readable: (students) => Promise.resolve(students),
      day: () => Promise.resolve("2026-11-24"),
      signal: AbortSignal.abort(),
    });
    expect(await answer.text()).toContain("welcome");
    expect(subscribers.size).toBe(0);
  });

  it("asks for everything to be read again after a gap, and when a change could not be checked", async () => {
    const { subscribers, tell, next, stop } = await opened(() => Promise.reject(new Error("away")));
    subscribers.forEach((one) => one.onGap());
    expect(await next()).toBe("event: resync\ndata: {}\n\n");
    tell("a");
    expect(await next()).toBe("event: resync\ndata: {}\n\n");
    stop.abort();
  });

  it("is one of ten of its session at most: the eldest ends, and other sessions keep theirs", async () => {
    const stub = stubHub();
    const open = (session: string) =>
      liveStream({
        ...{ hub: stub.hub, schoolId: "s", personId: "me", session, signal: new AbortController().signal },
        readable: (students) => Promise.resolve(students),
        day: () => Promise.resolve("2026-11-24"),
        pace: { refresh: 5, heartbeat: 60_000 },
      });
    const other = open("other").body?.getReader();
    const mine = Array.from({ length: 12 }, () => open("mine").body?.getReader());
    expect(stub.subscribers.size).toBe(11);
    // After its welcome one that was ended has nothing more, and another goes on.
    const ended = async (reader: typeof other) => {
      await reader?.read();
      const more = reader?.read().then(({ done }) => done) ?? Promise.resolve(true);
      return Promise.race([more, new Promise((resolve) => setTimeout(resolve, 20, "open"))]);
    };
    expect(await Promise.all(mine.slice(0, 3).map(ended))).toEqual([true, true, "open"]);
    for (const reader of [other, ...mine]) await reader?.cancel();
    expect(stub.subscribers.size).toBe(0);
  });
});
