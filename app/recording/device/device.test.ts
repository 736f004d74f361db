import "fake-indexeddb/auto";
import { IDBFactory } from "fake-indexeddb";
import { v7 as newId } from "uuid";
import { afterAll, beforeEach, describe, expect, test, vi } from "vitest";
import type { KeptPack, PackedGoal, RecordingPack } from "#core/sync/pack.ts";
import type { Sheet } from "#core/sync/kept.ts";
import type { Queued } from "#core/sync/queued.ts";
import { beginSitting, listOpenSittings, openSitting } from "../sitting/store.ts";
import { undone, withMark } from "../sitting/sheet.ts";
import { type Device, handOverTo, openDevice } from "./device.ts";
import { openDisk } from "./disk.ts";
import { isWriting, writingInTurn } from "./in-turn.ts";
import { askAgain, enqueue, listWaiting, sendWaiting } from "./queue.ts";
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
vi.stubGlobal("localStorage", { getItem: () => null });
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
  return { disk: await openDisk(), key: await importKey(key(1)), personId, kept, pack, ...as };
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
    answer = () => new Response("", { status: 500 });
    expect(await sendWaiting(here)).toBe("offline");
    expect(notes()).toEqual(["one", "one", "one"]);
    expect(await listWaiting(here)).toHaveLength(2);
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

  test.each<[string, () => Response]>([
    ["a page with status 200", () => html(200)],
    ["JSON that is not ours", () => said({ ok: true })],
    ["an outcome that we do not know", () => said({ outcome: "queued" })],
    ["nothing at all", () => new Response("")],
    ["a redirect", redirected],
    ["a refusal of a proxy", () => html(403)],
    ["a page that is not there", () => json({ error: "not found" }, 404)],
    ["an error", () => json({ kind: "failed", id: "1" }, 500)],
    ["a proxy without its server", () => html(502)],
    ["a sign-in of the network", () => html(401)],
    ["a refusal without a reason", () => said({ outcome: "refused" })],
  ])("takes no item out of the queue: %s", async (_, what) => {
    const here = await device();
    await enqueue(here, [item("one")]);
    answer = what;
    expect(await sendWaiting(here)).toBe("offline");
    expect(await listWaiting(here)).toMatchObject([{ refused: null }]);
    answer = () => said({ outcome: "already" });
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
      { refused: expect.stringMatching(/may not record/) as string },
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

  test("says so where the disk does not take a mark, and keeps it in the tab", async () => {
    const here = await device();
    const { store } = await begin(here);
    here.disk.close();
    store.change(goal.goalId, trial("1"));
    expect(await store.settled()).toBe(false);
    expect([store.kept(), store.unwritten()]).toEqual([false, true]);
    expect(store.sheet(goal.goalId).marks).toHaveLength(1);
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
