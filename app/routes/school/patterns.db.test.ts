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

/** "2026-10": the month so many before this one. */
const monthsAgo = (months: number): string => {
  const [year = 0, month = 0] = daysAgo(0).split("-").map(Number);
  return new Date(Date.UTC(year, month - 1 - months, 15)).toISOString().slice(0, 7);
};

const notForThem = { init: { status: 403 } };
const notThere = { init: { status: 404 } };

describe("the patterns of the school", () => {
  it("are for administrators and case managers, and name nobody", async () => {
    const { patterns: found } = await desmond.load(patterns.loader);
    expect(found?.students).toBeGreaterThanOrEqual(5);
    const text = JSON.stringify(found);
    expect(text).not.toMatch(/studentId|incidentId|Wren|Caspian|Malik/);
    for (const who of [teo, gus]) await expect(who.load(patterns.loader)).rejects.toMatchObject(notForThem);
    await expect(teo.load(patternsCsv.loader, {}, "?table=time")).rejects.toMatchObject(notForThem);
    const file = await (await noor.load(patternsCsv.loader, {}, "?table=week")).text();
    expect(file).toContain("fewer than three students");
  });

  it("are of whole months that are over, compared with the span before, whatever else an address asks for", async () => {
    const read = (search: string) => desmond.load(patterns.loader, {}, search);
    // One more incident of each of five students in both months before this one.
    for (const given of ["Wren", "Caspian", "Malik", "Lumi", "Hollis"])
      for (const day of [monthsAgo(1), monthsAgo(2)])
        await inScope(db.app, demo.person("noor"), demo.student(given), (scope) =>
          saveIncident(scope, demo.student(given), {
            ...{ incidentId: newId(), ongoing: false, note: null, observerId: null },
            time: { on: `${day}-15`, period: null },
            chosen: { ...emptyChosen(), behavior: [{ choiceId: newId(), name: "shouting" }] },
            details: emptyDetails,
          }),
        );
    const newest = await read("");
    expect(newest.span?.from).toBe(`${monthsAgo(1)}-01`);
    expect(newest.before?.to.slice(0, 7)).toBe(monthsAgo(2));
    expect(newest.change?.after.incidents).toBe(newest.patterns?.n);
    expect(newest.change?.before.incidents).toBe((await read(`?span=${newest.before?.from}`)).patterns?.n);
    const today = daysAgo(0);
    expect(newest.spans.every(({ to }) => to < `${today.slice(0, 7)}-01`)).toBe(true);
    // The oldest has none before it.
    const oldest = await read(`?span=${newest.spans.at(-1)?.from}`);
    expect([oldest.before, oldest.change]).toEqual([null, null]);
    // Neither a day nor a label nor a group makes another count of it.
    for (const asked of ["day=2026-10-20&compare=around", "behavior=shouting", "setting=hall", "by=day"])
      expect(await read(`?${asked}`)).toEqual(newest);
    const [group] = await db.owner<{ group_id: string }>("groups").limit(1);
    expect(await read(`?group=${group?.group_id}`)).toEqual(newest);
  });

  it("are not shown where no month is over by which five students had an incident", async () => {
    await db.owner.raw(
      "update incidents set state = 'removed' where occurred_on < date_trunc('month', ?::date)",
      [daysAgo(0)],
    );
    const { spans, patterns: found, change } = await desmond.load(patterns.loader);
    expect([spans, found, change]).toEqual([[], null, null]);
    await expect(desmond.load(patternsCsv.loader, {}, "?table=time")).rejects.toMatchObject(notThere);
  });
});
