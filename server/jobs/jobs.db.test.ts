import { afterAll, afterEach, beforeAll, describe, expect, it } from "vitest";
import { inScope } from "#tests/demo-school.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
import { withScope } from "../db/school.ts";
import { recordEvent } from "../db/events.ts";
import { checkSummaries } from "./check-summaries.ts";
import { enqueueJob } from "./enqueue.ts";
import { type Jobs, keepJobsRunning } from "./run.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let running: Jobs[] = [];
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
});
afterEach(async () => {
  await Promise.all(running.map((jobs) => jobs.stop()));
  running = [];
});
afterAll(() => db.close());

const start = () => running.push(keepJobsRunning(db.appUrl, db.app, { pollingIntervalSeconds: 0.5 }));
const spoil = (goalId: string) =>
  db
    .owner("goal_summaries")
    .where({ goal_id: goalId })
    .update({ summary: JSON.stringify({ wrong: true }) });
const summaryOf = async (goalId: string) =>
  (await db.owner("goal_summaries").where({ goal_id: goalId }).pluck("summary"))[0] as unknown;
const mendedNow = () => db.owner("audit").where({ actor_kind: "job", act: "mended" });
const asJob = <T>(
  work: Parameters<typeof withScope<{ kind: "job"; schoolId: string; name: string }, T>>[3],
) => withScope(db.app, { kind: "job", schoolId: demo.schoolId, name: "test" }, null, work);

describe("the nightly check of summaries", () => {
  it("finds nothing to mend where every save kept its summary", async () => {
    const { goals, mended } = await checkSummaries(db.app, demo.schoolId, { again: false });
    expect(goals).toBeGreaterThan(30);
    expect(mended).toBe(0);
  });

  it("mends a summary that differs or is missing, and says so in the audit as a job", async () => {
    const [spoilt, gone] = [demo.goal("Wren", "2b"), demo.goal("Wren", "3")];
    const before = [await summaryOf(spoilt), await summaryOf(gone)];
    await spoil(spoilt);
    await db.owner("goal_summaries").where({ goal_id: gone }).delete();
    expect(await checkSummaries(db.app, demo.schoolId, { again: false })).toMatchObject({ mended: 2 });
    expect([await summaryOf(spoilt), await summaryOf(gone)]).toEqual(before);
    expect(await mendedNow()).toMatchObject([
      { person_id: null, job: "check-summaries", student_id: demo.student("Wren") },
      { person_id: null, job: "check-summaries", student_id: demo.student("Wren") },
    ]);
  });

  it("asks for a second look after it mended, in the same transaction", async () => {
    const waiting = await db.owner("jobs.job").where({ name: "check-summaries" });
    expect(waiting).toMatchObject([
      { data: { again: true, schoolId: demo.schoolId } },
      { data: { again: true } },
    ]);
    const failed = inScope(db.app, demo.person("noor"), null, async (scope) => {
      await recordEvent(scope, { thing: "summaries", act: "mended", thingId: null, studentId: null });
      throw new Error("taken back");
    });
    await expect(failed).rejects.toThrow("taken back");
    expect(await db.owner("jobs.job").where({ name: "check-summaries" })).toHaveLength(2);
  });

  it("runs from the queue, once, with two processes at work", async () => {
    await db.owner("jobs.job").delete();
    const goalId = demo.goal("Priya", "1");
    await spoil(goalId);
    const before = (await mendedNow()).length;
    await asJob((scope) => enqueueJob(scope.trx, { queue: "nightly", data: {} }));
    start();
    start();
    await expect.poll(async () => (await mendedNow()).length, { timeout: 20_000 }).toBe(before + 1);
    await expect
      .poll(() => db.owner("jobs.job").where({ state: "completed" }).pluck("name"), { timeout: 20_000 })
      .toEqual(expect.arrayContaining(["nightly", "check-summaries"]));
    const ran = await db.owner("jobs.job").where({ name: "check-summaries" }).whereNot({ state: "created" });
    expect(ran).toHaveLength(1);
  });

  it("is planned for every night, and a person may not run it", async () => {
    start();
    await expect
      .poll(() => db.owner("jobs.schedule").pluck("cron"), { timeout: 20_000 })
      .toEqual(["10 9 * * *"]);
    await expect(db.app.raw("create table jobs.x (y int)")).rejects.toMatchObject({ code: "42501" });
  });
});

describe("the audit", () => {
  it("knows who acted where it was no person", async () => {
    const studentId = demo.student("Wren");
    const session = Buffer.alloc(32);
    const link = { kind: "link", session, schoolId: demo.schoolId, linkId: studentId, studentId } as const;
    const job = { kind: "job", schoolId: demo.schoolId, name: "test" } as const;
    const student = { kind: "student", schoolId: demo.schoolId, studentId } as const;
    for (const actor of [link, student])
      await withScope(db.app, job, studentId, (scope) =>
        recordEvent({ ...scope, actor }, { thing: "student", act: "changed", thingId: studentId, studentId }),
      );
    const rows = await db.owner("audit").whereIn("actor_kind", ["link", "student"]).orderBy("audit_id");
    expect(rows).toMatchObject([
      { actor_kind: "link", actor_id: studentId, person_id: null },
      { actor_kind: "student", actor_id: studentId, person_id: null },
    ]);
  });
});

it("the nightly backup is made by a process that can, and tried again where it failed", async () => {
  let times = 0;
  const backUp = () => ((times += 1) === 1 ? Promise.reject(new Error("no room")) : Promise.resolve());
  start();
  running.push(keepJobsRunning(db.appUrl, db.app, { pollingIntervalSeconds: 0.5, backUp }));
  await db.app.transaction((trx) => enqueueJob(trx, { queue: "back-up", data: {} }));
  await expect.poll(() => times, { timeout: 20_000 }).toBe(2);
  const { rows } = await db.owner.raw<{ rows: { cron: string }[] }>(
    "select cron from jobs.schedule where name = 'back-up'",
  );
  expect(rows).toEqual([{ cron: "40 8 * * *" }]);
});
