import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import { send } from "#tests/recorded.ts";
import { signedIn, type Visitor } from "#tests/session.ts";
import { startWebServer, type WebServer } from "#tests/web-server.ts";
import { readTabletSettings, saveTabletSettings } from "#server/db/device-lock.ts";
import type { PackAnswer } from "./pack.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let web: WebServer;
let demo: DemoIds;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  web = await startWebServer(db.appUrl);
});
afterAll(async () => {
  await web.stop();
  await db.close();
});

const json = async <T>(answer: Promise<Response>) => (await answer).json() as Promise<T>;
const unlock = (who: Visitor, body: Record<string, unknown>) =>
  json<{ outcome: string }>(send(who, "/recording/unlock", body)).then(({ outcome }) => outcome);
const byPin = (who: Visitor, pin: string, more: Record<string, unknown> = {}) =>
  unlock(who, { pin, handoverId: null, wrong: 0, ...more });
const lockOf = async (who: Visitor, deviceId = newId(), more = {}) => {
  const answer = await json<PackAnswer>(send(who, "/recording/pack", { deviceId, ...more }));
  return "lock" in answer ? answer.lock : null;
};
const setPin = async (who: Visitor, pin: string) =>
  expect((await who.post("/devices", { intent: "set the PIN", pin })).status).toBe(302);
const refusedOf = async (personId: string) =>
  Number(
    (await db.owner("audit").where({ thing: "pin", act: "refused", thing_id: personId }).count())[0]?.[
      "count"
    ],
  );

describe("a device that is lost", () => {
  it("is forgotten by its person, or by an administrator of their school, and by nobody else", async () => {
    const [teo, noor, desmond] = [
      await signedIn(web.url, "teo"),
      await signedIn(web.url, "noor"),
      await signedIn(web.url, "desmond"),
    ];
    const { personId } = demo.person("teo");
    const [lost, other] = [newId(), newId()];
    for (const device of [lost, other]) await lockOf(teo, device);
    const page = `/school/accounts/${personId}`;
    expect((await (await desmond.get(page)).text()).match(/Forget this device/g)).toHaveLength(2);
    const forget = async (who: Visitor, deviceId: string) =>
      (await who.post(page, { intent: "forget", deviceId })).status;
    expect(await forget(noor, lost)).toBe(403);
    expect(await forget(desmond, newId())).toBe(422);
    expect(await forget(desmond, lost)).toBe(302);
    const asked = await json<PackAnswer>(send(teo, "/recording/pack", { deviceId: lost }));
    expect(asked).toEqual({ forgotten: true });
    expect(await lockOf(teo, other)).not.toBeNull();
    expect(
      await db.owner("audit").where({ thing: "device", act: "forgotten", thing_id: lost }),
    ).toMatchObject([{ person_id: demo.person("desmond").personId }]);
    // The database itself gives the list to administrators alone, and no key to them either.
    const rows = (who: "noor" | "desmond") =>
      inScope(db.app, demo.person(who), null, async ({ trx }) => {
        const { rows: found } = await trx.raw<{ rows: object[] }>("select * from gate.devices_here(?)", [
          personId,
        ]);
        return found.map((row) => Object.keys(row).sort());
      });
    expect(await rows("noor")).toEqual([]);
    expect(await rows("desmond")).toEqual([["device_id", "name", "used_at"]]);
  });
});

describe("a locked device", () => {
  it("is told with its pack how it is guarded, and by which PIN it opens", async () => {
    const teo = await signedIn(web.url, "teo");
    expect(await lockOf(teo)).toEqual({ days: 7, minutes: 15, sealed: null });
    await setPin(teo, "7319");
    const { sealed, ...rest } = (await lockOf(teo)) ?? {};
    expect(rest).toEqual({ days: 7, minutes: 15 });
    // 32 bytes and the tag of 16.
    expect(Buffer.from(sealed?.bytes ?? "", "base64")).toHaveLength(48);
    const noor = demo.person("noor");
    await inScope(db.app, noor, null, (scope) =>
      saveTabletSettings(scope, { offlineDays: 3, pinMinutes: null }),
    );
    expect(await inScope(db.app, noor, null, readTabletSettings)).toEqual({
      offlineDays: 3,
      pinMinutes: null,
    });
    expect(await lockOf(teo)).toEqual({ days: 3, minutes: null, sealed: null });
    // A school that asks for no PIN lets a device in that was locked before.
    expect(await unlock(teo, { fresh: true })).toBe("open");
    await inScope(db.app, noor, null, (scope) =>
      saveTabletSettings(scope, { offlineDays: 7, pinMinutes: 15 }),
    );
    await expect(
      inScope(db.app, demo.person("teo"), null, (scope) =>
        saveTabletSettings(scope, { offlineDays: 30, pinMinutes: null }),
      ),
    ).rejects.toThrow();
  });

  it("opens without a PIN to who has just signed in, and to who has none", async () => {
    const teo = await signedIn(web.url, "teo");
    expect(await unlock(teo, { fresh: true })).toBe("open");
    await db.owner.raw("update gate.sessions set opened_at = opened_at - interval '16 minutes'");
    expect(await unlock(teo, { fresh: true })).toBe("locked");
    const gus = await signedIn(web.url, "gus");
    await db.owner.raw("update gate.sessions set opened_at = opened_at - interval '16 minutes'");
    expect(await unlock(gus, { fresh: true })).toBe("open");
  });

  it("takes five wrong PINs of its session, those refused without a network among them, and then ends that session alone", async () => {
    const { personId } = demo.person("teo");
    const [here, elsewhere] = [await signedIn(web.url, "teo"), await signedIn(web.url, "teo")];
    const before = await refusedOf(personId);
    expect(await byPin(here, "0001")).toBe("wrong");
    // What is no PIN at all is no try.
    expect(await byPin(here, "12")).toBe("wrong");
    expect(await byPin(here, "7319")).toBe("open");
    // The right one begins the count anew.
    expect(await byPin(here, "0002", { wrong: 2 })).toBe("wrong");
    expect(await refusedOf(personId)).toBe(before + 4);
    expect(await byPin(here, "0003")).toBe("wrong");
    expect(await byPin(here, "0004")).toBe("sign in");
    expect(await refusedOf(personId)).toBe(before + 6);
    expect((await send(here, "/recording/unlock", { fresh: true })).status).toBe(401);
    expect(await byPin(elsewhere, "7319")).toBe("open");
    // A device that refused five by itself ends its session, whatever else it says; its pack tells of fewer.
    expect(await lockOf(elsewhere, newId(), { wrong: 2 })).not.toBeNull();
    expect(await refusedOf(personId)).toBe(before + 8);
    expect(await unlock(elsewhere, { over: true })).toBe("sign in");
    expect((await send(elsewhere, "/recording/pack", { deviceId: newId() })).status).toBe(401);
    expect(await refusedOf(personId)).toBe(before + 13);
  });

  it("takes no more than five tries that come at once", async () => {
    const teo = await signedIn(web.url, "teo");
    const answers = await Promise.all(
      Array.from({ length: 12 }, (_, at) =>
        send(teo, "/recording/unlock", { pin: `90${10 + at}`, handoverId: null, wrong: 0 }).then(
          async (answer) =>
            answer.status === 401 ? "signed out" : ((await answer.json()) as { outcome: string }).outcome,
        ),
      ),
    );
    expect(answers.filter((one) => one === "wrong").length).toBeLessThanOrEqual(4);
    expect((await send(teo, "/recording/unlock", { fresh: true })).status).toBe(401);
  });

  it("opens by the PIN of who has it in hand by theirs, while the hand-over lasts, and by no other colleague’s", async () => {
    const [noor, teo, gus] = [
      await signedIn(web.url, "noor"),
      await signedIn(web.url, "teo"),
      await signedIn(web.url, "gus"),
    ];
    await setPin(noor, "5820");
    await setPin(gus, "6042");
    const deviceId = newId();
    await lockOf(noor, deviceId);
    const { handoverId, sealed } = await json<{ handoverId: string; sealed: { bytes: string } | null }>(
      send(noor, "/recording/hand-over", { personId: demo.person("teo").personId, pin: "7319", deviceId }),
    );
    expect(sealed?.bytes).toHaveLength(64);
    expect(await byPin(noor, "7319")).toBe("wrong");
    expect(await byPin(noor, "7319", { handoverId })).toBe("open");
    expect(await byPin(noor, "5820", { handoverId })).toBe("open");
    expect(await byPin(noor, "6042", { handoverId })).toBe("wrong");
    // Another's device is not opened by a hand-over that is not theirs.
    expect(await byPin(gus, "7319", { handoverId })).toBe("wrong");
    await teo.post("/devices", { intent: "end", handoverId });
    expect(await byPin(noor, "7319", { handoverId })).toBe("wrong");
    // A device that is none of the asking person's is given no key for it.
    const other = await json<{ sealed: unknown }>(
      send(noor, "/recording/hand-over", {
        personId: demo.person("teo").personId,
        pin: "7319",
        deviceId: newId(),
      }),
    );
    expect(other.sealed).toBeNull();
  });
});
