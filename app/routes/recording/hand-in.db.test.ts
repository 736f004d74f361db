import { createCipheriv, randomBytes } from "node:crypto";
import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { daysAgo } from "#tests/clock.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import { recordedItem, send } from "#tests/recorded.ts";
import { signedIn, visitor, type Visitor } from "#tests/session.ts";
import { startWebServer, type WebServer } from "#tests/web-server.ts";
import { listHeldItems } from "#server/db/held-items.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let web: WebServer;
let demo: DemoIds;
let nobody: Visitor;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  web = await startWebServer(db.appUrl);
  nobody = visitor(web.url);
});
afterAll(async () => {
  await web.stop();
  await db.close();
});

/** Sealed as a device does it: AES-GCM with the tag at the end. */
function sealed(key: Buffer, item: unknown) {
  const iv = randomBytes(12);
  const cipher = createCipheriv("aes-256-gcm", key, iv);
  const bytes = Buffer.concat([cipher.update(JSON.stringify(item)), cipher.final(), cipher.getAuthTag()]);
  return { iv: iv.toString("base64"), bytes: bytes.toString("base64") };
}

describe("what somebody recorded before they left the school", () => {
  it("is taken from their device without a session, once, and waits for the leads", async () => {
    const { personId } = demo.person("teo");
    const deviceId = newId();
    const teo = await signedIn(web.url, "teo");
    const pack = (await (await send(teo, "/recording/pack", { deviceId })).json()) as { key: string };
    const key = Buffer.from(pack.key, "base64");
    const handIn = async (item: unknown, by: Buffer = key, of: Record<string, unknown> = {}) => {
      const answer = await send(nobody, "/recording/hand-in", {
        personId,
        deviceId,
        ...sealed(by, item),
        ...of,
      });
      return ((await answer.json()) as { outcome: string }).outcome;
    };
    const item = recordedItem(demo);
    // As long as they may sign in nothing is taken this way.
    expect(await handIn(item)).toBe("unknown");
    const leaves = (on: string | null) =>
      db.owner("people").where({ person_id: personId }).update({ left_on: on });
    await leaves(daysAgo(1));
    expect((await send(teo, "/recording/keep", item)).status).toBe(401);
    expect(await handIn(item)).toBe("held");
    expect(await handIn(item)).toBe("held");
    const held = () =>
      inScope(db.app, demo.person("noor"), demo.student("Wren"), (scope) =>
        listHeldItems(scope, demo.student("Wren")),
      );
    expect(await held()).toMatchObject([{ itemId: item.id, by: "Teo Brandvold" }]);
    expect(await db.owner("entries").where({ entry_id: item.id })).toEqual([]);

    // Sealed with another key, of another device or person, of a student who was never theirs, of a later day: not.
    expect(await handIn(recordedItem(demo), randomBytes(32))).toBe("refused");
    expect(await handIn(recordedItem(demo), key, { deviceId: newId() })).toBe("unknown");
    expect(await handIn(recordedItem(demo), key, { personId: demo.person("noor").personId })).toBe("unknown");
    await db
      .owner("circle")
      .where({ person_id: personId, student_id: demo.student("Caspian") })
      .delete();
    expect(await handIn(recordedItem(demo, { studentId: demo.student("Caspian") }))).toBe("refused");
    await leaves(daysAgo(2));
    expect(await handIn(recordedItem(demo))).toBe("refused");
    expect(await handIn("no item")).toBe("refused");
    expect(await handIn(item, key, { iv: "-", bytes: "" })).toBe("refused");
    // After 60 days, and from a device that was forgotten, nothing is.
    await leaves(daysAgo(61));
    expect(await handIn(item)).toBe("unknown");
    await leaves(daysAgo(1));
    await db
      .owner("device_keys")
      .where({ device_id: deviceId })
      .update({ key: null, forgotten_at: new Date() });
    expect(await handIn(item)).toBe("unknown");
    expect(await held()).toHaveLength(1);
  });
});
