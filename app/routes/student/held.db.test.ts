import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { v7 as newId } from "uuid";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { recordedItem } from "#tests/recorded.ts";
import { type Caller, caller } from "#tests/route.ts";
import * as caseload from "../caseload/caseload.tsx";
import * as circle from "../circle/circle.tsx";
import * as submit from "../recording/submit-queued.ts";
import * as held from "./held.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
let paloma: Caller;
let gus: Caller;
let wren: { studentId: string };
let now: number;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  [noor, paloma, gus] = [
    await caller(db.app, "noor"),
    await caller(db.app, "paloma"),
    await caller(db.app, "gus"),
  ];
  wren = { studentId: demo.student("Wren") };
  const { rows } = await db.owner.raw<{ rows: { now: Date }[] }>("select clock_now() as now");
  now = rows[0]?.now.getTime() ?? 0;
});
afterAll(() => db.close());

/** Ten trials of subtraction, observed so many minutes before the test began. */
const item = (minutesAgo: number, part: object = {}) => ({
  ...recordedItem(demo),
  ...{ id: newId(), observedAt: new Date(now - minutesAgo * 60_000).toISOString(), clockAhead: 0 },
  ...{ keptAt: undefined, packAt: undefined, ...part },
});
const send = async (who: Caller, what: object) => {
  const answer = (await who.sendJson(submit.action, what)) as {
    outcome?: string;
    data?: { outcome: string };
  };
  return answer.outcome ?? answer.data?.outcome;
};
const entry = (id: string) => db.owner("entries").where({ entry_id: id });
const waiting = async () => (await noor.load(held.loader, wren)).items;
const decide = (intent: string, itemId: string) => noor.send(held.action, { intent, itemId }, wren);

describe("what was recorded before a part ended and is sent after it", () => {
  it("waits for a lead, who accepts it as its author's own or leaves it out", async () => {
    const [first, second, third] = [item(50), item(40), item(30, { kind: "entry" })];
    expect(await send(paloma, item(60))).toBe("saved");
    const { personId } = demo.person("paloma");
    await noor.send(circle.action, { intent: "end", personId }, wren);
    for (const one of [first, second, third, first]) expect(await send(paloma, one)).toBe("saved");
    expect(await entry(first.id)).toEqual([]);
    const items = await waiting();
    expect(items.map(({ itemId }) => itemId)).toEqual([first.id, second.id, third.id]);
    expect(items[0]).toMatchObject({ by: "Paloma Ruiz", words: expect.stringContaining("subtraction") });
    const reminder = (await noor.load(caseload.loader)).families.find(({ held }) => held > 0);
    expect(reminder).toMatchObject({ name: "Wren", held: 3 });

    await decide("accept", first.id);
    expect(await entry(first.id)).toMatchObject([{ author_id: personId, state: "kept" }]);
    await decide("leave out", second.id);
    expect(await entry(second.id)).toEqual([]);
    await decide("accept", "all");
    expect(await entry(third.id)).toHaveLength(1);
    expect(await waiting()).toEqual([]);
    await expect(decide("accept", first.id)).rejects.toMatchObject({ init: { status: 404 } });
    const acts = await db.owner("audit").where({ thing: "held item" }).orderBy("audit_id").pluck("act");
    expect(acts.filter((act) => act !== "received")).toEqual(["accepted", "left out", "accepted"]);
  });

  it("is not taken where it was recorded after the end, by who never had a part, or only read", async () => {
    await db.owner.raw("update audit set at = at - interval '20 minutes' where thing = 'circle'");
    expect(await send(paloma, item(5))).toBe("not allowed");
    expect(await send(gus, item(50))).toBe("not allowed");
    const student = { school_id: demo.schoolId, student_id: wren.studentId };
    await db.owner("circle").insert({
      ...{ ...student, person_id: demo.person("gus").personId, part: "read" },
      from_on: "2026-01-01",
    });
    expect(await send(gus, item(50))).toBe("not allowed");
    expect(await waiting()).toEqual([]);
  });

  it("is decided by a lead and by nobody else", async () => {
    const teo = await caller(db.app, "teo");
    await expect(teo.load(held.loader, wren)).rejects.toMatchObject({ init: { status: 403 } });
    await expect(paloma.load(held.loader, wren)).rejects.toMatchObject({ init: { status: 404 } });
  });
});
