import "fake-indexeddb/auto";
import { createDecipheriv } from "node:crypto";
import { v7 as newId } from "uuid";
import { IDBFactory } from "fake-indexeddb";
import { afterAll, beforeEach, describe, expect, test, vi } from "vitest";
import type { DeviceLock } from "#core/sync/device-lock.ts";
import type { RecordingPack } from "#core/sync/pack.ts";
import type { Queued } from "#core/sync/queued.ts";
import { pinKeyOf, sealedByPin } from "#server/auth/pin.ts";
import { type Device, openDevice, openKept } from "./device.ts";
import { lockHere, openDisk } from "./disk.ts";
import { handOverTo } from "./hand-over.ts";
import { lockAfter, overdue, used } from "./idle.ts";
import { unlock } from "./lock.ts";
import { enqueue, listWaiting } from "./queue.ts";

const minute = 60_000;
const day = 1440 * minute;
const deviceKey = Buffer.alloc(32, 7);
const personId = newId();
const pack = {
  person: { personId, name: "N. Halloran" },
  students: [{ studentId: newId(), screenName: "W.A.", calledName: "Wren", goals: [], choices: [] }],
} as unknown as RecordingPack;
/** Sealed as the server seals it, by Node's own cryptography; a device opens it by that of the browser. */
const sealedWith = async (pin: string) => sealedByPin(await pinKeyOf(pin), deviceKey);
const guarded: DeviceLock = { days: 7, minutes: 15, sealed: await sealedWith("7319") };

type Body = Record<string, unknown>;
const asked: { path: string; body: Body }[] = [];
let unlockSays: (body: Body) => Response;
let lock: DeviceLock;
const said = (body: unknown, status = 200) => new Response(JSON.stringify(body), { status });
const signedOut = () => said({ kind: "signed-out" }, 401);
const away = (): never => {
  throw new TypeError("fetch failed");
};
const online = () => said({ key: deviceKey.toString("base64"), serverNow: Date.now(), pack, lock });
let packSays: () => Response;
let handInSays: () => Response;

vi.stubGlobal("fetch", (path: string, { body }: { body: string }) => {
  const read = JSON.parse(body) as Body;
  asked.push({ path, body: read });
  const says: Record<string, () => Response> = {
    "/recording/unlock": () => unlockSays(read),
    "/recording/hand-in": () => handInSays(),
  };
  return Promise.resolve().then(() => (says[path] ?? packSays)());
});
afterAll(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

beforeEach(() => {
  vi.useFakeTimers({ toFake: ["Date"] });
  vi.setSystemTime("2026-11-20T09:00:00");
  vi.stubGlobal("indexedDB", new IDBFactory());
  const stored = new Map<string, string>();
  vi.stubGlobal("localStorage", {
    getItem: (name: string) => stored.get(name) ?? null,
    setItem: (name: string, value: string) => stored.set(name, value),
    removeItem: (name: string) => stored.delete(name),
  });
  asked.length = 0;
  lock = guarded;
  packSays = online;
  unlockSays = () => said({ outcome: "locked" });
  handInSays = () => said({ outcome: "unknown" });
});

const pass = (time: number) => vi.setSystemTime(Date.now() + time);
const open = () => openDevice(() => undefined);
/** The device of a person who is signed in, with one thing recorded on it that is not sent yet. */
async function inUse(): Promise<Device> {
  const { device } = await open();
  if (!device) throw new Error("the device does not open");
  await enqueue(device, [{ kind: "absent", format: 1, id: newId(), note: "left" } as unknown as Queued]);
  return device;
}
const goOffline = () => {
  packSays = away;
  unlockSays = away;
};
const pinsAsked = () => asked.filter(({ path }) => path === "/recording/unlock").map(({ body }) => body);

describe("use of a browser", () => {
  test("is over after so many minutes, does not begin again by a touch, and not by a clock that is set back", () => {
    lockAfter(15);
    pass(14 * minute);
    expect(overdue()).toBeLessThan(0);
    used();
    pass(14 * minute);
    expect(overdue()).toBeLessThan(0);
    pass(minute);
    expect(overdue()).toBe(0);
    used();
    expect(overdue()).toBe(0);
    // A clock that runs is use.
    used(true);
    expect(overdue()).toBeLessThan(0);
    pass(-2 * minute);
    expect(overdue()).toBe(0);
    lockAfter(null);
    expect(overdue()).toBeLessThan(0);
  });
});

describe("a device that was not used for a while", () => {
  test("has its key no more, and is opened by the PIN, without a network too", async () => {
    const { disk } = await inUse();
    goOffline();
    pass(14 * minute);
    expect(await openKept(disk)).not.toBeNull();
    pass(minute);
    expect(await openKept(disk)).toBeNull();
    expect(await disk.getAll("keys")).toEqual([]);
    expect(await open()).toEqual({ device: null, reach: "locked" });
    expect(await unlock(disk, personId, "7318")).toEqual({ outcome: "wrong", left: 4 });
    expect(await unlock(disk, personId, "7319")).toEqual({ outcome: "open" });
    const { device, reach } = await open();
    expect(reach).toBe("offline");
    expect(device && (await listWaiting(device)).map(({ item }) => item)).toMatchObject([{ note: "left" }]);
    // The wrong one is told with the next pack.
    packSays = online;
    await open();
    expect(asked.at(-1)).toMatchObject({ path: "/recording/pack", body: { wrong: 1 } });
    await open();
    expect(asked.at(-1)).toMatchObject({ body: { wrong: 0 } });
  });

  test("asks the server of each wrong PIN, and is opened by signing in only once that says so", async () => {
    const { disk } = await inUse();
    pass(20 * minute);
    expect(await open()).toEqual({ device: null, reach: "locked" });
    expect(pinsAsked()).toEqual([{ fresh: true }]);
    unlockSays = () => said({ outcome: "wrong" });
    expect(await unlock(disk, personId, "1111")).toEqual({ outcome: "wrong", left: null });
    expect(pinsAsked().at(-1)).toEqual({ pin: "1111", handoverId: null, wrong: 0 });
    unlockSays = () => said({ outcome: "sign in" });
    packSays = signedOut;
    expect(await unlock(disk, personId, "1112")).toEqual({ outcome: "sign in" });
    expect(await open()).toEqual({ device: null, reach: "signed out" });
    packSays = online;
    const { device } = await open();
    expect(device && (await listWaiting(device))).toHaveLength(1);
  });

  test("is opened by signing in only after five wrong PINs without a network, of which the server hears", async () => {
    const { disk } = await inUse();
    goOffline();
    pass(20 * minute);
    expect(await open()).toMatchObject({ reach: "locked" });
    for (const left of [4, 3, 2, 1])
      expect(await unlock(disk, personId, "0000")).toEqual({ outcome: "wrong", left });
    expect(await unlock(disk, personId, "0000")).toEqual({ outcome: "sign in" });
    expect(await unlock(disk, personId, "7319")).toEqual({ outcome: "sign in" });
    expect(await lockHere(disk)).toMatchObject({ sealed: null, over: true });
    expect(await open()).toEqual({ device: null, reach: "locked" });
    // The session that is still open at the server is ended before the device asks for anything else.
    unlockSays = () => said({ outcome: "sign in" });
    packSays = signedOut;
    expect(await open()).toEqual({ device: null, reach: "signed out" });
    expect(asked.slice(-2).map(({ path, body }) => [path, body["over"]])).toEqual([
      ["/recording/unlock", true],
      ["/recording/pack", undefined],
    ]);
    packSays = online;
    const { device } = await open();
    expect(device && (await listWaiting(device))).toHaveLength(1);
  });

  test("opens without a PIN to who has just signed in, and to a PIN that was changed elsewhere", async () => {
    const { disk } = await inUse();
    pass(20 * minute);
    unlockSays = () => said({ outcome: "open" });
    expect(await open()).toMatchObject({ reach: "online", device: { personId } });
    pass(20 * minute);
    unlockSays = ({ pin }) => said({ outcome: pin === "6042" ? "open" : "locked" });
    expect(await open()).toMatchObject({ reach: "locked" });
    expect(await unlock(disk, personId, "6042")).toEqual({ outcome: "open" });
    expect(await open()).toMatchObject({ reach: "online", device: { personId } });
  });

  test("opens by the PIN of the colleague who has it in hand, until they give it back", async () => {
    const device = await inUse();
    const teo = { personId: newId(), name: "T. Brandvold", handoverId: newId(), since: Date.now() };
    await handOverTo(device, teo, await sealedWith("2846"));
    await vi.waitFor(async () => expect((await lockHere(device.disk))?.holder?.name).toBe("T. Brandvold"));
    goOffline();
    pass(20 * minute);
    expect(await open()).toMatchObject({ reach: "locked" });
    expect(await unlock(device.disk, personId, "2846")).toEqual({ outcome: "open" });
    const { device: again } = await open();
    expect(again?.kept.holder?.name).toBe("T. Brandvold");
    if (!again) return;
    await handOverTo(again, null);
    await vi.waitFor(async () => expect((await lockHere(again.disk))?.holder).toBeNull());
    pass(20 * minute);
    expect(await open()).toMatchObject({ reach: "locked" });
    expect(await unlock(device.disk, personId, "2846")).toEqual({ outcome: "wrong", left: 4 });
  });

  test("does not lock where the school asks for no PIN, or its person has none", async () => {
    for (const none of [
      { ...guarded, minutes: null },
      { ...guarded, sealed: null },
    ]) {
      lock = none;
      const { disk } = await inUse();
      pass(6 * day);
      expect(await openKept(disk)).not.toBeNull();
    }
  });
});

describe("what somebody recorded who is not signed in here", () => {
  const handedIn = () => asked.filter(({ path }) => path === "/recording/hand-in").map(({ body }) => body);

  test("is handed in as it lies, and leaves the device by the server’s word only", async () => {
    const { disk } = await inUse();
    packSays = signedOut;
    handInSays = () => said({ outcome: "unknown" });
    await open();
    await vi.waitFor(() => expect(handedIn()).toHaveLength(1));
    expect(await disk.count("queue")).toBe(1);
    // Read here with the key that the server has: no other opens it.
    const { iv, bytes, ...whose } = handedIn()[0] ?? {};
    expect(whose).toEqual({ personId, deviceId: await disk.get("meta", "device") });
    const sealed = Buffer.from(String(bytes), "base64");
    const opening = createDecipheriv("aes-256-gcm", deviceKey, Buffer.from(String(iv), "base64"));
    opening.setAuthTag(sealed.subarray(-16));
    const read = Buffer.concat([opening.update(sealed.subarray(0, -16)), opening.final()]).toString();
    expect(JSON.parse(read)).toMatchObject({ note: "left" });
    handInSays = () => said({ outcome: "held" });
    await open();
    await vi.waitFor(async () => expect(await disk.count("queue")).toBe(0));
  });

  test("is not, where its person is signed in: it goes its usual way", async () => {
    await inUse();
    await open();
    expect(handedIn()).toEqual([]);
  });
});

describe("what a device keeps", () => {
  test.each([8 * day, -2 * day])(
    "cannot be read once the school’s days without sign-in are over, or by a clock that is set back (%i ms)",
    async (time) => {
      lock = { ...guarded, minutes: null };
      const { disk } = await inUse();
      goOffline();
      pass(time);
      expect(await open()).toEqual({ device: null, reach: "offline" });
      expect(await disk.getAll("keys")).toEqual([]);
      packSays = online;
      const { device } = await open();
      expect(device && (await listWaiting(device))).toHaveLength(1);
    },
  );

  test("has no names of students: they are shown while the server knows the person as signed in", async () => {
    localStorage.setItem("gentle-margin names", "shown");
    const { device: signedIn } = await open();
    expect(signedIn?.pack.students[0]?.screenName).toBe("Wren");
    goOffline();
    const kept = await openKept(await openDisk());
    expect(kept?.pack.students[0]).toMatchObject({ screenName: "W.A.", calledName: "W.A." });
  });
});
