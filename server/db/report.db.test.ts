import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { reportLines } from "#core/report/report-lines.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, draft, inScope } from "#tests/demo-school.ts";
import { saveEntry } from "./entries.ts";
import { readLineKey, readReport } from "./report.ts";
import { listGoals } from "./students.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
const wren = () => demo.student("Wren");
const asNoor = <T>(work: Parameters<typeof inScope<T>>[3]) =>
  inScope(db.app, demo.person("noor"), wren(), work);
const read = (part: Parameters<typeof readReport>[2]) => asNoor((scope) => readReport(scope, wren(), part));

/** A day later than all of the demo's, a Monday, with lines that are known in different ways. */
const day = "2026-12-07";
const made = { arrival: newId(), noPeriod: newId(), dayOnly: newId(), late: newId(), early: newId() };

beforeAll(async () => {
  db = await openThrowaway("demo", { at: `${day}T23:50:00Z` });
  demo = await demoIds(db.owner);
  const ids = { studentId: wren(), goalId: demo.goal("Wren", "2b") };
  await asNoor(async (scope) => {
    for (const [entryId, time] of [
      [made.late, "15:10"],
      [made.early, "08:05"],
    ] as const)
      await saveEntry(scope, draft(ids, 7, 10, { entryId, observedLocal: `${day}T${time}` }), ids);
  });
  const [model] = await db.owner("incidents").where({ student_id: wren(), state: "kept" }).limit(1);
  for (const [incident_id, period] of [
    [made.arrival, "Arrival"],
    [made.noPeriod, "Astronomy"],
    [made.dayOnly, null],
  ] as const)
    await db.owner("incidents").insert({
      ...(model as object),
      ...{ incident_id, period, occurred_on: day, occurred_at: null },
      ...{ content: JSON.stringify((model as { content: unknown }).content), same_as: null },
    });
});
afterAll(() => db.close());

describe("a student's report", () => {
  it("stands in the order of real time: a period where the timetable has it, what is known by its day at the day's beginning", async () => {
    const { order } = await read({ limit: 5 });
    expect(order.slice(0, 3)).toEqual([made.late, made.arrival, made.early]);
    expect(order.slice(3)).toEqual([made.noPeriod, made.dayOnly].sort().reverse());
  });

  it("is read in parts by key, each line once, as long as it may be", async () => {
    const whole = await read({ limit: null });
    expect(whole.next).toBeNull();
    expect(whole.order.length).toBeGreaterThan(100);
    expect(new Set(whole.order).size).toBe(whole.order.length);
    const parts: string[] = [];
    for (let next: string | null = ""; next !== null;) {
      const part: Awaited<ReturnType<typeof read>> = await read({ before: readLineKey(next), limit: 37 });
      parts.push(...part.order);
      next = part.next;
    }
    expect(parts).toEqual(whole.order);
    const lines = await asNoor(async (scope) =>
      reportLines(await listGoals(scope, wren()), whole.record, whole.order),
    );
    expect(lines.map(({ entryId }) => entryId)).toEqual(whole.order);
    const days = lines.map(({ on }) => on);
    expect(days).toEqual([...days].sort().reverse());
  });

  it("holds the lines of its span and no other", async () => {
    const whole = await read({ limit: null });
    const span = { from: "2026-10-05", to: "2026-10-16" };
    const part = await read({ limit: null, span });
    const days = await asNoor(async (scope) =>
      reportLines(await listGoals(scope, wren()), whole.record, whole.order),
    );
    const expected = days.filter(({ on }) => span.from <= on && on <= span.to);
    expect(expected.length).toBeGreaterThan(10);
    expect(part.order).toEqual(expected.map(({ entryId }) => entryId));
    expect((await read({ limit: null, span: { from: null, to: "2026-10-16" } })).order).toEqual(
      days.filter(({ on }) => on <= span.to).map(({ entryId }) => entryId),
    );
  });

  it("stands by goal in parts too: each goal's lines newest first, what is of no goal last", async () => {
    const parts: Awaited<ReturnType<typeof read>>[] = [];
    for (let next: string | null = ""; next !== null;) {
      const part: Awaited<ReturnType<typeof read>> = await read({
        ...{ before: readLineKey(next), limit: 23, order: "goal" },
      });
      parts.push(part);
      next = part.next;
    }
    const goals = await asNoor((scope) => listGoals(scope, wren()));
    const lines = parts.flatMap(({ record, order }) => reportLines(goals, record, order));
    expect(lines.map(({ entryId }) => entryId).sort()).toEqual(
      [...(await read({ limit: null })).order].sort(),
    );
    const placeOf = (goalId: string | null) => {
      const at = goals.findIndex((goal) => goal.goalId === goalId);
      return at < 0 ? goals.length : at;
    };
    const places = lines.map(({ goalId }) => placeOf(goalId));
    expect(places).toEqual([...places].sort((a, b) => a - b));
    for (const { goalId } of goals) {
      const days = lines.filter((line) => line.goalId === goalId).map(({ on }) => on);
      expect(days).toEqual([...days].sort().reverse());
    }
  });

  it("takes seven statements, however long it is", async () => {
    let statements = 0;
    const count = () => (statements += 1);
    await asNoor(async (scope) => {
      scope.trx.on("query", count);
      await readReport(scope, wren(), { limit: 3 });
      expect(statements).toBe(7);
      await readReport(scope, wren(), { limit: null });
      expect(statements).toBe(14);
    });
  });

  it.each([
    "",
    "x",
    "0_2026-13-40_10:00_5_019a0000-0000-7000-8000-000000000001",
    `${day}_10:00_5_019a0000-0000-7000-8000-000000000001`,
    `0_${day}_10:00_5_${"-".repeat(36)}`,
  ])("knows that %j is the key of no line", (text) => expect(readLineKey(text)).toBeNull());
});
