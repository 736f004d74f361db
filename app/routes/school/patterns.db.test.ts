import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { emptyChosen, emptyDetails } from "#core/incidents/blank.ts";
import { saveIncident } from "#server/db/incidents.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import { type Caller, caller } from "#tests/route.ts";
import * as patternsCsv from "./patterns-csv.ts";
import * as patterns from "./patterns.tsx";
import { daysAgo } from "#tests/clock.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
let teo: Caller;
let gus: Caller;
let desmond: Caller;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  [noor, teo, gus, desmond] = await Promise.all([
    caller(db.app, "noor"),
    caller(db.app, "teo"),
    caller(db.app, "gus"),
    caller(db.app, "desmond"),
  ]);
});
afterAll(() => db.close());

const notThere = { init: { status: 404 } };

describe("the patterns of the school", () => {
  it("are for administrators and case managers, and name nobody", async () => {
    const { patterns: found } = await desmond.load(patterns.loader);
    expect(found?.students).toBeGreaterThanOrEqual(5);
    const text = JSON.stringify(found);
    expect(text).not.toMatch(/studentId|incidentId|Wren|Caspian|Malik/);
    for (const who of [teo, gus]) await expect(who.load(patterns.loader)).rejects.toMatchObject(notThere);
    await expect(teo.load(patternsCsv.loader, {}, "?table=time")).rejects.toMatchObject(notThere);
    const file = await (await noor.load(patternsCsv.loader, {}, "?table=week")).text();
    expect(file).toContain("fewer than three students");
  });

  it("are narrowed to what may be seen, and compared where both spans may", async () => {
    const read = (search: string) => desmond.load(patterns.loader, {}, search);
    const whole = await read("");
    const [where] = whole.patterns?.labels.setting.counts ?? [];
    const narrowed = await read(`?setting=${encodeURIComponent(where?.label ?? "")}`);
    // Fewer than five of them had an incident there: nothing at all, or just those that are counted.
    expect([null, where?.count]).toContain(narrowed.patterns && narrowed.patterns.n);
    // A label of one student cannot be asked for by its words.
    const own = await read("?behavior=hitting+or+kicking");
    expect([own.behavior, own.patterns?.n]).toEqual(["", whole.patterns?.n]);
    // One more incident of each of five students in both spans: enough to be compared.
    for (const given of ["Wren", "Caspian", "Malik", "Lumi", "Hollis"])
      for (const day of [10, 40])
        await inScope(db.app, demo.person("noor"), demo.student(given), (scope) =>
          saveIncident(scope, demo.student(given), {
            ...{ incidentId: newId(), ongoing: false, note: null, observerId: null },
            time: { on: daysAgo(day), period: null },
            chosen: { ...emptyChosen(), behavior: [{ choiceId: newId(), name: "shouting" }] },
            details: emptyDetails,
          }),
        );
    const { change, patterns: now } = await read("?span=28&compare=before");
    expect(change?.after.incidents).toBe(now?.n);
    expect(change?.before.incidents).toBeGreaterThanOrEqual(5);
    expect(change?.ratio).toBeGreaterThan(0);
    // Before the school year nothing was written down.
    expect((await read("?compare=before")).change).toBeNull();
    // Around a day: both sides together are the span, and a day that does not lie in it is its middle.
    const day = daysAgo(20);
    const around = await read(`?span=56&compare=around&day=${day}`);
    expect([around.compare, around.day]).toEqual(["around", day]);
    expect((around.change?.before.incidents ?? 0) + (around.change?.after.incidents ?? 0)).toBe(
      around.patterns?.n,
    );
    const middle = await read("?span=56&compare=around&day=1999-01-01");
    expect(middle.from < middle.day && middle.day < middle.to).toBe(true);
  });

  it("of a group with few are not shown", async () => {
    const [group] = await db.owner<{ group_id: string }>("groups").limit(1);
    const { patterns: found, groupId } = await desmond.load(patterns.loader, {}, `?group=${group?.group_id}`);
    expect([groupId, found]).toEqual([group?.group_id, null]);
  });
});
