import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { testNow } from "#tests/clock.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { type Caller, caller, leadsTo, statementsOf } from "#tests/route.ts";
import { recordedItem } from "#tests/recorded.ts";
import * as caseload from "./routes/caseload/caseload.tsx";
import * as past from "./routes/past/past.tsx";
import * as record from "./routes/recording/record.tsx";
import * as frame from "./routes/frame/frame.tsx";
import * as keep from "./routes/recording/submit-queued.ts";
import * as now from "./routes/recording/recording-status.ts";
import * as older from "./routes/report/older.ts";
import * as report from "./routes/report/report.tsx";
import * as goals from "./routes/student/goals.tsx";
import * as student from "./routes/student/student.tsx";
import * as today from "./routes/today/today.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  noor = await caller(db.app, "noor");
});
afterAll(() => db.close());

const wren = () => ({ studentId: demo.student("Wren") });
const goal = () => ({ ...wren(), goalId: demo.goal("Wren", "2b") });
const counted = async (work: () => unknown) => (await statementsOf(db.app, work)).length;

/**
 * Every page and action asks for a number of statements that does not grow with the data. In each are the session, `BEGIN`,
 * `gate.enter` and `COMMIT`.
 */
describe("statements", () => {
  it.each([
    ["the caseload", 13, () => noor.load(caseload.loader)],
    ["today", 18, () => noor.load(today.loader)],
    ["a student with the margin", 15, () => noor.load(student.loader, wren())],
    ["a student's goals, the first open", 15, () => noor.load(goals.loader, wren())],
    ["a goal", 15, () => noor.load(goals.loader, goal())],
    ["a report", 35, () => noor.load(report.loader, wren())],
    ["a report in full", 35, () => noor.load(report.loader, wren(), "?all")],
    ["older lines", 15, () => noor.load(older.loader, wren())],
  ] as const)("of %s are %i", async (_, expected, load) => {
    // What was looked at is written down once an hour, with one statement more.
    await load();
    expect(await counted(load)).toBe(expected);
  });

  it("of a whole page ask who it is once, whatever number of loaders it has", async () => {
    const page = () => noor.loadPage([frame.loader, student.loader, goals.loader], wren());
    const asked = (await statementsOf(db.app, page)).filter((sql) => sql.includes("gate.person_here"));
    expect(asked).toHaveLength(1);
  });

  it("of a save are nine through the form; a device also tells of its sitting", async () => {
    const form = {
      entryId: newId(),
      observedAt: "2026-11-24T09:30",
      purpose: "probe",
      correct: "7",
      attempted: "10",
    };
    const saved = async () =>
      expect(await leadsTo(noor.send(record.action, form, goal()))).toContain("saved=");
    expect(await counted(saved)).toBe(9);
    // Sent again, it is compared with what is there.
    expect(await counted(saved)).toBe(7);
    const item = recordedItem(demo);
    const kept = async () =>
      expect(await noor.sendJson(keep.action, item)).toMatchObject({ outcome: "saved" });
    expect(await counted(kept)).toBe(10);
  });

  it("of past rows are as many for twelve rows of three students as for one", async () => {
    const rows = (list: readonly (readonly [string, string])[]) =>
      Object.fromEntries(
        list.flatMap(([of, line], index) =>
          Object.entries({ entryId: newId(), on: "2026-11-20", at: "", goal: of, line, note: "" }).map(
            ([field, value]) => [`row.${index}.${field}`, value],
          ),
        ),
      );
    const sums = [goal().goalId, "7/10"] as const;
    const others = [
      [demo.goal("Caspian", "2"), "3"],
      [demo.goal("Rafi", "1"), "6/8"],
    ] as const;
    const save = (list: Parameters<typeof rows>[0]) => async () =>
      expect(await leadsTo(noor.send(past.action, { purpose: "probe", setting: "", ...rows(list) }))).toBe(
        `/past?saved=${list.length}`,
      );
    expect(await counted(save([sums]))).toBe(14);
    const many = Array.from({ length: 4 }, () => [sums, ...others]).flat();
    expect(await counted(save(many))).toBe(14);
  });

  it("of what a device hears every ten seconds are as many with ten tallies and sittings as with none", async () => {
    const startedAt = new Date(testNow()).toISOString();
    const poll = (open: number) => () =>
      noor.sendJson(now.action, {
        deviceId: newId(),
        open: Array.from({ length: open }, () => ({ sittingId: newId(), startedAt, goals: [goal()] })),
      });
    expect(await counted(poll(0))).toBe(9);
    expect(await counted(poll(1))).toBe(10);
    const ids = { studentId: demo.student("Caspian"), goalId: demo.goal("Caspian", "2") };
    for (const kind of ["tally open", "tally press", "tally press"])
      await noor.sendJson(keep.action, {
        ...{ format: 1, kind, id: newId(), ...ids },
        ...{ observedAt: startedAt, clockAhead: 0 },
      });
    expect(await counted(poll(10))).toBe(10);
  });
});
