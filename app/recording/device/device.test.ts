import "fake-indexeddb/auto";
import { IDBFactory } from "fake-indexeddb";
import { v7 as newId } from "uuid";
import { afterAll, beforeEach, describe, expect, test, vi } from "vitest";
import type { KeptPack, PackedGoal, RecordingPack } from "#core/sync/pack.ts";
import type { Sheet } from "#core/sync/kept.ts";
import type { Queued } from "#core/sync/queued.ts";
import { beginSitting, listOpenSittings, openSitting } from "../sitting/store.ts";
import { undone, withMark } from "../sitting/sheet.ts";
import { type Device, openDevice } from "./device.ts";
import { handOverTo } from "./hand-over.ts";
import type { Reach } from "./reach.ts";
import { openDisk } from "./disk.ts";
import { isWriting, writingInTurn } from "./in-turn.ts";
import { enqueue, hasUnkept, isStuck, listWaiting, sendWaiting } from "./queue.ts";
import { askAgain, changeNote, sayWhen } from "./queue-again.ts";
import { importKey } from "./seal.ts";

/** What the server says to each request, and what it was asked. */
const asked: { path: string; body: Record<string, unknown> }[] = [];
let answer: (path: string, body: Record<string, unknown>) => Response | Promise<Response>;
const said = (body: unknown) => new Response(JSON.stringify(body));
const goesAway = () => {
  throw new TypeError("fetch failed");
};

vi.stubGlobal("fetch", (path: string, { body }: { body: string }) => {
  const read = JSON.parse(body) as Record<string, unknown>;
  asked.push({ path, body: read });
  return Promise.resolve().then(() => answer(path, read));
});
vi.stubGlobal("localStorage", { getItem: () => null, removeItem: () => undefined });
vi.stubGlobal("requestAnimationFrame", (call: () => void) => setTimeout(call));
// One tab: whoever asks has the lock.
vi.stubGlobal("navigator", {
  userAgent: "",
  locks: {
    request: (_: string, __: object, work: (lock: object) => unknown) => Promise.resolve(work({})),
  },
});
afterAll(() => vi.unstubAllGlobals());

beforeEach(() => {
  vi.stubGlobal("indexedDB", new IDBFactory());
  asked.length = 0;
  answer = () => said({ outcome: "saved" });
});

const key = (byte: number) => Buffer.alloc(32, byte).toString("base64");
const personId = newId();
const goal: PackedGoal = {
  goalId: newId(),
  number: "2b",
  title: "Two-digit subtraction",
  wording: "",
  strategy: "",
  criterion: null,
  measure: { kind: "trials" },
  measureVersion: 1,
  planned: 10,
  purposes: ["probe"],
  dueOn: [],
};
const pack = {
  person: { personId, name: "N. Halloran" },
  timeZone: "America/Los_Angeles",
  students: [{ studentId: newId(), screenName: "W.A.", calledName: "Wren", goals: [goal], choices: [] }],
} as unknown as RecordingPack;

/** A device that its person has used before. */
async function device(as: Partial<Device> = {}): Promise<Device> {
  const kept: KeptPack = { chosen: {}, pack, clockAhead: 0 };
  return {
    disk: await openDisk(),
    key: await importKey(key(1)),
    personId,
    kept,
    pack,
    lock: undefined,
    ...as,
  };
}
const item = (note: string) =>
  ({ kind: "absent", format: 1, id: newId(), studentId: newId(), note }) as unknown as Queued;
const notes = (sent = asked) => sent.map(({ body }) => body["note"]);

describe("the queue", () => {
  test("is sent in its order; a refused item stays with its reason and holds back no other", async () => {
    const here = await device();
    await enqueue(here, [item("one"), item("two"), item("three")]);
    answer = (_, { note }) =>
      said(note === "two" ? { outcome: "refused", why: "It is over." } : { outcome: "saved" });
    expect(await sendWaiting(here)).toBe("online");
    expect(notes()).toEqual(["one", "two", "three"]);
    expect(
      (await listWaiting(here)).map(({ item: left, refused }) => [
        (left as unknown as { note: string }).note,
        refused,
      ]),
    ).toEqual([["two", "It is over."]]);
    // It is not asked for again by itself.
    await sendWaiting(here);
    expect(asked).toHaveLength(3);
    answer = () => said({ outcome: "saved" });
    await askAgain(here);
    await sendWaiting(here);
    expect(await listWaiting(here)).toEqual([]);
  });

  test("ends where the server does not answer or the session is over, and loses nothing", async () => {
    const here = await device();
    await enqueue(here, [item("one"), item("two")]);
    answer = goesAway;
    expect(await sendWaiting(here)).toBe("offline");
    answer = () => new Response(JSON.stringify({ kind: "signed-out" }), { status: 401 });
    expect(await sendWaiting(here)).toBe("signed out");
    answer = () => new Response("", { status: 503 });
    expect(await sendWaiting(here)).toBe("unwell");
    answer = () => {
      throw new DOMException("", "TimeoutError");
    };
    expect(await sendWaiting(here)).toBe("unwell");
    expect(notes()).toEqual(["one", "one", "one", "one"]);
    expect(await listWaiting(here)).toHaveLength(2);
  });

  test("has one with which the server fails behind the others, tries it again after growing pauses, and shows it after a day", async () => {
    vi.useFakeTimers({ toFake: ["Date"], now: Date.UTC(2026, 10, 24, 18) });
    const here = await device();
    await enqueue(here, [item("one"), item("two"), item("three")]);
    answer = (_, { note }) =>
      note === "one" ? new Response("{}", { status: 500 }) : said({ outcome: "saved" });
    expect(await sendWaiting(here)).toBe("online");
    expect(notes()).toEqual(["one", "two", "three"]);
    // Not again at once; what is new goes before it.
    await enqueue(here, [item("four")]);
    await sendWaiting(here);
    expect(notes().slice(3)).toEqual(["four"]);
    const waits: number[] = [];
    for (let times = 0; times < 8; times += 1) {
      const [left] = await listWaiting(here);
      const again = left?.failed?.again ?? 0;
      waits.push((again - Date.now()) / 1000);
      vi.setSystemTime(again);
      await sendWaiting(here);
    }
    expect(waits).toEqual([10, 30, 60, 300, 900, 3600, 3600, 3600]);
    expect(notes().slice(4)).toEqual(Array(8).fill("one"));
    const stuck = async () => (await listWaiting(here)).map(isStuck);
    expect(await stuck()).toEqual([false]);
    vi.setSystemTime(Date.UTC(2026, 10, 25, 18));
    expect(await stuck()).toEqual([true]);
    // Its person corrects it, and it is tried again at once.
    answer = () => said({ outcome: "saved" });
    const [left] = await listWaiting(here);
    if (left) await changeNote(here, left, " one, corrected ");
    expect(await stuck()).toEqual([false]);
    await sendWaiting(here);
    expect(notes().at(-1)).toBe("one, corrected");
    expect(await listWaiting(here)).toEqual([]);
    vi.useRealTimers();
  });

  test("sends a press that is taken back only after the press", async () => {
    const here = await device();
    const press = { ...item("press"), kind: "tally press" } as unknown as Queued;
    const back = { ...item("back"), kind: "tally back", pressId: press.id } as unknown as Queued;
    await enqueue(here, [press, back, item("other")]);
    answer = (_, { note }) =>
      note === "press" ? new Response("{}", { status: 500 }) : said({ outcome: "saved" });
    await sendWaiting(here);
    expect(notes()).toEqual(["press", "other"]);
    answer = () => said({ outcome: "saved" });
    await askAgain(here);
    await sendWaiting(here);
    expect(notes().slice(2)).toEqual(["press", "back"]);
  });

  test("says whose each is, and asks when it was where the clock was wrong", async () => {
    const here = await device();
    const fetched = vi.spyOn(globalThis, "fetch");
    here.kept.packAt = Date.UTC(2026, 10, 24, 17);
    await enqueue(here, [{ ...item("one"), observedAt: "2025-10-24T10:00:00.000Z", clockAhead: 0 }]);
    answer = () => said({ outcome: "refused", why: "The clock was set back.", asks: "when" });
    await sendWaiting(here);
    expect(new Headers(fetched.mock.calls[0]?.[1]?.headers).get("Recorded-By")).toBe(personId);
    expect(asked[0]?.body).toMatchObject({
      packAt: "2026-11-24T17:00:00.000Z",
      keptAt: expect.stringMatching(/Z$/) as string,
    });
    expect(await listWaiting(here)).toMatchObject([{ asksWhen: true, refused: "The clock was set back." }]);
    answer = () => said({ outcome: "saved" });
    await sayWhen(here, Date.UTC(2026, 10, 24, 18));
    await sendWaiting(here);
    expect(asked.at(-1)?.body).toMatchObject({
      ...{ observedAt: "2026-11-24T18:00:00.000Z", clockAhead: 0, timeSaid: true },
    });
    fetched.mockRestore();
  });

  test("keeps in memory what the disk does not take, sends it from there, and brings it to the disk when that takes it", async () => {
    const here = await device();
    const full = vi.spyOn(IDBObjectStore.prototype, "add").mockImplementation(() => {
      throw new DOMException("", "QuotaExceededError");
    });
    await enqueue(here, [item("one"), item("two")]);
    expect(hasUnkept()).toBe(true);
    expect((await listWaiting(here)).map(({ place }) => place < 0)).toEqual([true, true]);
    answer = (_, { note }) => (note === "one" ? said({ outcome: "saved" }) : goesAway());
    expect(await sendWaiting(here)).toBe("offline");
    expect(await listWaiting(here)).toHaveLength(1);
    full.mockRestore();
    expect((await listWaiting(here)).map(({ place }) => place > 0)).toEqual([true]);
    expect(hasUnkept()).toBe(false);
    // A disk that is there again, after it was cleared under a page that is open.
    here.disk.close();
    vi.stubGlobal("indexedDB", new IDBFactory());
    await enqueue(here, [item("three")]);
    expect(hasUnkept()).toBe(false);
    expect(await here.disk.get("meta", "person")).toBe(personId);
    answer = () => said({ outcome: "saved" });
    await sendWaiting(here);
    expect(notes().slice(2)).toEqual(["three"]);
    // Another person's by now: nothing of this one is written there.
    here.disk.close();
    const theirs = await openDisk();
    await theirs.put("meta", newId(), "person");
    await enqueue(here, [item("four")]);
    expect(hasUnkept()).toBe(true);
    await sendWaiting(here);
    expect([notes().at(-1), hasUnkept(), await theirs.getAll("queue")]).toEqual(["four", false, []]);
  });

  test("tells a person nothing of what another one left on the device", async () => {
    const here = await device();
    await enqueue(here, [item("mine")]);
    const other = await device({ personId: newId(), key: await importKey(key(2)) });
    expect(await listWaiting(other)).toEqual([]);
    // Not even where the id is theirs: without the key it cannot be read.
    expect(await listWaiting({ ...other, personId })).toEqual([]);
    expect(await listWaiting(here)).toHaveLength(1);
  });
});

describe("what stands between a device and its server", () => {
  const html = (status: number) => new Response("<html>Welcome to our network</html>", { status });
  const json = (body: unknown, status: number) => new Response(JSON.stringify(body), { status });
  const redirected = () => Object.defineProperty(new Response(null), "type", { value: "opaqueredirect" });

  test.each<[string, () => Response, Reach]>([
    ["a page with status 200", () => html(200), "elsewhere"],
    ["JSON that is not ours", () => said({ ok: true }), "elsewhere"],
    ["an outcome that we do not know", () => said({ outcome: "queued" }), "elsewhere"],
    ["nothing at all", () => new Response(""), "elsewhere"],
    ["a redirect", redirected, "elsewhere"],
    ["a refusal of a proxy", () => html(403), "elsewhere"],
    ["a page that is not there", () => json({ error: "not found" }, 404), "elsewhere"],
    ["an error", () => json({ kind: "failed", id: "1" }, 500), "online"],
    ["a proxy without its server", () => html(502), "unwell"],
    ["a sign-in of the network", () => html(401), "elsewhere"],
    ["a refusal without a reason", () => said({ outcome: "refused" }), "elsewhere"],
  ])("takes no item out of the queue: %s", async (_, what, reach) => {
    const here = await device();
    await enqueue(here, [item("one")]);
    answer = what;
    expect(await sendWaiting(here)).toBe(reach);
    expect(await listWaiting(here)).toMatchObject([{ refused: null }]);
    answer = () => said({ outcome: "already" });
    await askAgain(here);
    expect(await sendWaiting(here)).toBe("online");
    expect(await listWaiting(here)).toEqual([]);
  });

  test("is told from the server itself: a session that is over, and one who may not", async () => {
    const here = await device();
    await enqueue(here, [item("one")]);
    answer = () => json({ kind: "signed-out" }, 401);
    expect(await sendWaiting(here)).toBe("signed out");
    answer = () => json({ outcome: "not allowed" }, 404);
    expect(await sendWaiting(here)).toBe("online");
    expect(await listWaiting(here)).toMatchObject([
      { refused: expect.stringMatching(/can no longer record/) as string },
    ]);
  });
});

describe("a sitting on the disk", () => {
  const begin = async (here: Device) => {
    const [student] = pack.students;
    if (!student) throw new Error("a pack without students");
    const sittingId = await beginSitting(here, [{ student, goalIds: [goal.goalId] }]);
    const store = await openSitting(here, sittingId);
    if (!store) throw new Error("a sitting that was begun can be opened");
    return { sittingId, store };
  };
  const trial = (value: string) => (sheet: Sheet) => withMark(sheet, { at: 1000, on: "trial", value });

  test("has every mark once it has settled, and leaves the disk with the queue", async () => {
    const here = await device();
    const { sittingId, store } = await begin(here);
    store.change(goal.goalId, trial("1"));
    store.change(goal.goalId, trial("0"));
    expect(store.unwritten()).toBe(true);
    expect(await store.settled()).toBe(true);
    expect(store.unwritten()).toBe(false);
    const again = await openSitting(here, sittingId);
    expect(again?.sheet(goal.goalId).marks.map(({ value }) => value)).toEqual(["1", "0"]);
    expect(await openSitting({ ...here, key: await importKey(key(2)) }, sittingId)).toBeNull();
    await enqueue(here, [item("its line")], { sittingId });
    expect(await listOpenSittings(here)).toEqual([]);
    expect(await here.disk.getAll("sheets")).toEqual([]);
  });

  const isFull = () =>
    vi.spyOn(IDBObjectStore.prototype, "put").mockImplementation(() => {
      throw new DOMException("", "QuotaExceededError");
    });

  test("says so where the disk does not take a mark, keeps it in the tab, and writes it when the disk takes it", async () => {
    vi.useFakeTimers({ toFake: ["setTimeout"], shouldAdvanceTime: true });
    const here = await device();
    const { store, sittingId } = await begin(here);
    const full = isFull();
    store.change(goal.goalId, trial("1"));
    expect(await store.settled()).toBe(false);
    expect([store.kept(), store.unwritten()]).toEqual([false, true]);
    expect(store.sheet(goal.goalId).marks).toHaveLength(1);
    full.mockRestore();
    await vi.advanceTimersByTimeAsync(11_000);
    await vi.waitFor(() => expect([store.kept(), store.unwritten()]).toEqual([true, false]));
    expect((await openSitting(here, sittingId))?.sheet(goal.goalId).marks).toHaveLength(1);
    vi.useRealTimers();
  });

  test("is written again as a whole where the disk was cleared in the middle of it", async () => {
    const here = await device();
    const { store, sittingId } = await begin(here);
    store.change(goal.goalId, trial("1"));
    await store.settled();
    here.disk.close();
    vi.stubGlobal("indexedDB", new IDBFactory());
    store.change(goal.goalId, trial("0"));
    expect(await store.settled()).toBe(true);
    const again = await openSitting(here, sittingId);
    expect(again?.sheet(goal.goalId).marks.map(({ value }) => value)).toEqual(["1", "0"]);
    expect(again?.sitting()).toEqual(store.sitting());
  });

  test("begins where the disk takes nothing, is saved from memory, and comes back to no disk after that", async () => {
    const here = await device();
    const persist = vi.fn(() => Promise.resolve(false));
    vi.stubGlobal("navigator", { ...navigator, storage: { persist } });
    const full = isFull();
    const add = vi.spyOn(IDBObjectStore.prototype, "add").mockImplementation(() => {
      throw new DOMException("", "QuotaExceededError");
    });
    const { store, sittingId } = await begin(here);
    expect(persist).toHaveBeenCalledOnce();
    expect(store.kept()).toBe(false);
    store.change(goal.goalId, trial("1"));
    await store.settled();
    await enqueue(here, [item("its line")], { sittingId });
    store.close();
    await sendWaiting(here);
    expect([notes(), hasUnkept()]).toEqual([["its line"], false]);
    full.mockRestore();
    add.mockRestore();
    expect(await listOpenSittings(here)).toEqual([]);
    expect(await openSitting(here, sittingId)).toBeNull();
  });

  test("is observed by whoever has the device in hand at the first mark", async () => {
    const here = await device();
    const { store } = await begin(here);
    const teo = { personId: newId(), name: "T. Beck", handoverId: null, since: Date.now() };
    await handOverTo(here, teo);
    store.change(goal.goalId, trial("1"));
    await handOverTo(here, null);
    store.change(goal.goalId, trial("1"));
    expect(store.sheet(goal.goalId).observer).toMatchObject({ personId: teo.personId });
    // With nothing on it any more it is whose the next first mark is.
    store.change(goal.goalId, undone);
    store.change(goal.goalId, undone);
    expect(store.sheet(goal.goalId)).not.toHaveProperty("observer");
    await store.settled();
  });
});

describe("opening a device", () => {
  const packAnswer = (byte: number) => said({ key: key(byte), serverNow: Date.now(), pack });

  test("is done once for all parts of a page that ask at the same time", async () => {
    let letGo: () => void = () => undefined;
    const held = new Promise<void>((resolve) => (letGo = resolve));
    answer = async () => {
      await held;
      return packAnswer(1);
    };
    const both = [openDevice(() => undefined), openDevice(() => undefined)];
    letGo();
    const [first, second] = await Promise.all(both);
    expect(asked).toHaveLength(1);
    expect(first?.device).toBe(second?.device);
    // Opened again without a network it is there as it was kept.
    answer = goesAway;
    const shown = vi.fn();
    expect(await openDevice(shown)).toMatchObject({ reach: "offline", device: { personId } });
    expect(shown).toHaveBeenCalledOnce();
  });

  test("under a number that was told off deletes what is here and begins as another device", async () => {
    answer = () => packAnswer(1);
    const { device: before } = await openDevice(() => undefined);
    if (!before) throw new Error("nothing was opened");
    await enqueue(before, [item("left")]);
    const numberOf = () => asked.at(-1)?.body["deviceId"];
    const old = numberOf();
    answer = (_, { deviceId }) => (deviceId === old ? said({ forgotten: true }) : packAnswer(2));
    const { device: after } = await openDevice(() => undefined);
    expect(numberOf()).not.toBe(old);
    expect(after && (await listWaiting(after))).toEqual([]);
    expect(await before.disk.getAll("queue")).toEqual([]);
  });
});

test("writings come one after the other, one that fails too, and are known of until they are done", async () => {
  const order: string[] = [];
  const writing = writingInTurn();
  writing.write(async () => {
    await new Promise((resolve) => setTimeout(resolve, 5));
    order.push("slow");
  });
  writing.write(() => Promise.reject(new Error("no room")));
  writing.write(() => Promise.resolve(order.push("last")));
  expect(isWriting()).toBe(true);
  await writing.done();
  expect(order).toEqual(["slow", "last"]);
  expect(isWriting()).toBe(false);
});
