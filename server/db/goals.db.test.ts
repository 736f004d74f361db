import { listRevisions } from "./revisions.ts";
import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type { Measure } from "#core/measures/measure.ts";
import { judgeGoal } from "#core/progress/goal-figures.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, draft, inScope } from "#tests/demo-school.ts";
import { countEverRecorded, listGoalEntries } from "./entry-lists.ts";
import { figuresOf } from "#core/progress/figures-of.ts";
import { saveEntry } from "./entries.ts";
import {
  addGoal,
  changeGoal,
  decideGoal,
  type GoalContent,
  listRenamedParts,
  orderGoals,
  removePhase,
  removeUnusedGoal,
  savePhase,
} from "./goals.ts";
import { findGoal, listGoals } from "./students.ts";
import { rebuildSummaries } from "./summaries.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
});
afterAll(() => db.close());

const today = "2026-11-24";
const plain: GoalContent = {
  number: "7",
  title: "Counts coins",
  area: "Mathematics",
  wording: "Rafi will count coins with 80% accuracy in 3 of 4 sessions.",
  measure: { kind: "trials", planned: 10 },
  criterion: {
    value: 80,
    direction: "increase",
    window: { k: 2, n: 2 },
    windowUnit: "session",
    purposes: ["probe"],
  },
  startOn: "2026-11-01",
  dueOn: "2027-02-12",
  annualReviewOn: null,
  enteredBaseline: { date: "2026-11-01", value: 20 },
  baselineEntries: null,
  schedule: { perWeek: 2 },
  strategy: "",
  measuredBy: null,
  parentId: null,
};
const rafi = () => demo.student("Rafi");
const asLead = <T>(work: Parameters<typeof inScope<T>>[3]) =>
  inScope(db.app, demo.person("noor"), rafi(), work);
async function made(content: Partial<GoalContent> = {}) {
  const ids = { studentId: rafi(), goalId: newId() };
  await asLead((scope) => addGoal(scope, ids, { ...plain, ...content }, { today }));
  return ids;
}
const goalOf = (ids: { goalId: string }) => asLead((scope) => findGoal(scope, rafi(), ids.goalId));
const change = (more: object = {}) => ({
  expectedRevision: 1,
  fromOn: today,
  reason: "",
  compares: true,
  renamed: {},
  ...more,
});

describe("a goal", () => {
  it("is added at the end of its student's page, once however often it is sent", async () => {
    const ids = await made();
    expect(await asLead((scope) => addGoal(scope, ids, plain, { today }))).toBe("already");
    const goals = await asLead((scope) => listGoals(scope, rafi()));
    expect(goals.at(-1)).toMatchObject({ goalId: ids.goalId, number: "7", schedule: { perWeek: 2 } });
    expect(goals.filter(({ goalId }) => goalId === ids.goalId).length).toBe(1);
    expect(goals.at(-1)?.summary).toMatchObject({ entries: 0, aim: { fromValue: 20, toValue: 80 } });
  });

  it("is set up by the lead alone", async () => {
    const ids = { studentId: demo.student("Wren"), goalId: newId() };
    for (const who of ["teo", "ines"] as const)
      await expect(
        inScope(db.app, demo.person(who), ids.studentId, (scope) => addGoal(scope, ids, plain, { today })),
      ).rejects.toMatchObject({ name: "Refused" });
    await expect(
      inScope(db.app, demo.person("gus"), ids.studentId, (scope) => addGoal(scope, ids, plain, { today })),
    ).rejects.toMatchObject({ name: "NotFound" });
  });

  it("stands under a goal of the same student and no other's", async () => {
    const parent = await made();
    const child = await made({ parentId: parent.goalId, number: "7a" });
    expect(await goalOf(child)).toMatchObject({ parentId: parent.goalId });
    await expect(made({ parentId: demo.goal("Wren", "2b") })).rejects.toMatchObject({
      name: "NotFound",
    });
    await expect(made({ parentId: child.goalId })).rejects.toMatchObject({ name: "NotFound" });
  });

  it("keeps what stood before when its criterion changes, and the figures follow", async () => {
    const ids = await made();
    // An hour apart: two sessions.
    for (const observedLocal of ["2026-11-20T09:00", "2026-11-20T10:00"])
      await asLead((scope) => saveEntry(scope, { ...draft(ids, 7), observedLocal }, ids));
    expect((await goalOf(ids)).summary?.mastery).toMatchObject({ met: false });
    const lower = { ...plain, criterion: plain.criterion && { ...plain.criterion, value: 70 } };
    expect(await asLead((scope) => changeGoal(scope, ids, lower, change({ reason: "amended IEP" })))).toBe(
      "saved",
    );
    expect(await goalOf(ids)).toMatchObject({
      revision: 2,
      measureVersion: 1,
      summary: { mastery: { met: true } },
    });
    const [first, second] = await asLead((scope) => listRevisions(scope, "goal", ids.goalId));
    expect([
      first?.content.setUp.criterion?.value,
      second?.content.setUp.criterion?.value,
      second?.reason,
      second?.by,
    ]).toEqual([80, 70, "amended IEP", "N. Halloran"]);
  });

  it("refuses a change made against a set-up that no longer stands", async () => {
    const ids = await made();
    await asLead((scope) => changeGoal(scope, ids, { ...plain, title: "Coins" }, change()));
    expect(await asLead((scope) => changeGoal(scope, ids, { ...plain, title: "Late" }, change()))).toBe(
      "conflict",
    );
    expect((await goalOf(ids)).title).toBe("Coins");
  });

  it("closes the old measure when it is measured in another way: entries keep their meaning, figures begin anew", async () => {
    const ids = await made();
    await asLead((scope) => saveEntry(scope, draft(ids, 7), ids));
    const measure: Measure = { kind: "fluency", counted: "digits" };
    const other = { ...plain, measure, criterion: plain.criterion && { ...plain.criterion, value: 30 } };
    await asLead((scope) => changeGoal(scope, ids, other, change({ compares: false })));
    expect(await goalOf(ids)).toMatchObject({
      measure,
      measureVersion: 2,
      figuresFromVersion: 2,
      summary: { entries: 0, n: 0 },
    });
    const [entry] = await asLead((scope) => listGoalEntries(scope, ids.goalId));
    expect(entry).toMatchObject({ measureVersion: 1, measure: { kind: "trials" }, score: { value: 70 } });
    const entries = await asLead((scope) => listGoalEntries(scope, ids.goalId));
    expect(figuresOf(await goalOf(ids), entries)).toEqual([]);
    expect(await asLead((scope) => countEverRecorded(scope, ids.goalId))).toBe(1);
    expect(await rebuildSummaries(db.owner)).toMatchObject({ changed: 0 });
  });

  it("goes on with the line when the versions compare, and knows parts by their new names", async () => {
    const measure: Measure = { kind: "checklist", items: ["ladel", "whisk"] };
    const ids = await made({ measure });
    const put = { ...plain, measure: { kind: "checklist" as const, items: ["ladle", "whisk"] } };
    await asLead((scope) => changeGoal(scope, ids, put, change({ renamed: { ladel: "ladle" } })));
    expect(await goalOf(ids)).toMatchObject({ measureVersion: 2, figuresFromVersion: 1 });
    expect(await asLead((scope) => listRenamedParts(scope, ids.goalId))).toEqual(
      new Map([["ladel", "ladle"]]),
    );
    // The same set-up again is no new version, whatever the order of its keys.
    await asLead((scope) => changeGoal(scope, ids, put, change({ expectedRevision: 2 })));
    expect(await goalOf(ids)).toMatchObject({ measureVersion: 2, revision: 3 });
  });

  it("is met, not met after all, discontinued and taken up again by the case manager's word", async () => {
    const ids = await made();
    const decide = (act: Parameters<typeof decideGoal>[2]["act"], expectedRevision: number) =>
      asLead((scope) => decideGoal(scope, ids, { act, on: today, reason: "team meeting", expectedRevision }));
    expect(await decide("met", 1)).toBe("saved");
    expect((await goalOf(ids)).setup.metOn).toBe(today);
    expect(await decide("discontinued", 1)).toBe("conflict");
    await decide("not met", 2);
    await decide("discontinued", 3);
    expect(await goalOf(ids)).toMatchObject({
      setup: { metOn: null },
      ended: { how: "discontinued", on: today, reason: "team meeting" },
    });
    await decide("taken up again", 4);
    expect((await goalOf(ids)).ended).toBeNull();
    expect((await asLead((scope) => listRevisions(scope, "goal", ids.goalId))).map(({ act }) => act)).toEqual(
      ["made", "met", "not met", "discontinued", "taken up again"],
    );
  });

  it("has phases that are drawn anew when one begins, changes or is taken away", async () => {
    const ids = await made();
    await asLead((scope) => saveEntry(scope, draft(ids, 5), ids));
    const phase = {
      phaseId: newId(),
      name: "number line",
      startsOn: "2026-11-21",
      reason: "flat",
      isBaseline: false,
    };
    await asLead((scope) => savePhase(scope, ids, phase));
    const begun = await goalOf(ids);
    expect(begun.setup.phases).toMatchObject([{ name: "number line", reason: "flat" }]);
    // The kept facts are of the last point's phase; that a phase without a point has begun since is known on reading.
    expect(begun.summary?.nInPhase).toBe(1);
    const facts = begun.summary ?? expect.fail("no summary");
    const calendar = { schoolDays: [1, 2, 3, 4, 5], years: [], closures: [], reportingPeriods: [] };
    expect(judgeGoal(facts, begun.setup, { lastOn: facts.lastOn, today, calendar }).standing.why).toMatch(
      /No points in this phase yet/,
    );
    await asLead((scope) => savePhase(scope, ids, { ...phase, startsOn: "2026-11-02" }));
    expect((await goalOf(ids)).summary).toMatchObject({ nInPhase: 1 });
    const stranger = { studentId: rafi(), goalId: demo.goal("Rafi", "1") };
    await expect(asLead((scope) => savePhase(scope, stranger, phase))).rejects.toMatchObject({
      name: "NotFound",
    });
    await asLead((scope) => removePhase(scope, ids, phase.phaseId));
    expect((await goalOf(ids)).setup.phases).toEqual([]);
  });

  it("that was set up by mistake is removed, but never once something was recorded for it or stands under it", async () => {
    const remove = (ids: { studentId: string; goalId: string }) =>
      asLead((scope) => removeUnusedGoal(scope, ids));
    const [used, parent] = [await made(), await made()];
    const objective = await made({ parentId: parent.goalId, number: "7a" });
    const recorded = draft(used, 5);
    await asLead((scope) => saveEntry(scope, recorded, used));
    await db.owner("entries").where({ entry_id: recorded.entryId }).update({ state: "removed" });
    expect(await remove(used)).toBe("in use");
    expect(await remove(parent)).toBe("in use");
    expect(await remove(objective)).toBe("removed");
    expect(await remove(parent)).toBe("removed");
    const left = (await asLead((scope) => listGoals(scope, rafi()))).map(({ goalId }) => goalId);
    expect(left).toContain(used.goalId);
    expect(left).not.toContain(parent.goalId);
    for (const table of ["goal_measures", "goal_summaries"])
      expect(await db.owner(table).where({ goal_id: parent.goalId })).toEqual([]);
    expect(await db.owner("revisions").where({ thing_id: parent.goalId })).toEqual([]);
    await expect(remove({ studentId: rafi(), goalId: demo.goal("Wren", "2b") })).rejects.toMatchObject({
      name: "NotFound",
    });
    // The function asks for itself, whoever calls it: another school's goal is out of its reach.
    const { rows } = await db.app.raw<{ rows: { removed: boolean }[] }>(
      "select remove_unused_goal(?) as removed",
      [used.goalId],
    );
    expect(rows).toEqual([{ removed: false }]);
  });

  it("is kept by whatever says something of it, though nothing was recorded: it was not measured, tallied, observed or decided", async () => {
    const { schoolId, personId } = demo.person("noor");
    const who = { school_id: schoolId, student_id: rafi() };
    const now = "2026-11-20T18:00:00Z";
    const said: Record<string, (goalId: string) => object> = {
      not_measured: () => ({
        ...{ note_id: newId(), person_id: personId, observed_at: now, observed_on: "2026-11-20" },
        reason: "refused",
      }),
      tallies: () => ({
        ...{ tally_on: "2026-11-20", measure_version: 1, opened_by: personId, opened_at: now },
      }),
      second_observations: () => ({
        ...{ observation_id: newId(), measure_version: 1, person_id: personId, observed_at: now },
        ...{ observed_on: "2026-11-20", entry: "{}", score: "{}", made_hash: "x" },
      }),
      goal_decisions: () => ({
        ...{ decision_id: newId(), author_id: personId, kind: "keep going", decided_on: "2026-11-20" },
        reason: "steady",
      }),
    };
    for (const [table, row] of Object.entries(said)) {
      const ids = await made();
      await db.owner(table).insert({ ...who, goal_id: ids.goalId, ...row(ids.goalId) });
      expect([table, await asLead((scope) => removeUnusedGoal(scope, ids))]).toEqual([table, "in use"]);
    }
  });

  it("counts the people who observed, not those who wrote it down", async () => {
    const ids = await made({ criterion: plain.criterion && { ...plain.criterion, people: 2 } });
    const observers = [demo.person("ines").personId, demo.person("teo").personId];
    for (const [at, observerId] of observers.entries())
      await asLead((scope) =>
        saveEntry(scope, draft(ids, 10, 10, { observerId, observedLocal: `2026-11-1${at + 6}T10:00` }), ids),
      );
    expect((await goalOf(ids)).summary?.mastery).toMatchObject({ people: { seen: 2, needed: 2 } });
  });

  it("takes its baseline from the first entries where the set-up says so", async () => {
    const ids = await made({ enteredBaseline: null, baselineEntries: 2 });
    for (const [index, correct] of [2, 4, 9].entries())
      await asLead((scope) =>
        saveEntry(scope, draft(ids, correct, 10, { observedLocal: `2026-11-0${index + 2}T10:00` }), ids),
      );
    expect((await goalOf(ids)).summary).toMatchObject({ aim: { fromValue: 30 }, mastery: { inWindow: 1 } });
  });

  it("is put in order, and those that are not named keep theirs", async () => {
    const before = await asLead((scope) => listGoals(scope, rafi()));
    const last = before.at(-1)?.goalId ?? "";
    await asLead((scope) =>
      orderGoals(scope, rafi(), [
        { goalId: last, number: "1b" },
        { goalId: demo.goal("Wren", "2b"), number: "9" },
      ]),
    );
    const after = await asLead((scope) => listGoals(scope, rafi()));
    expect(after.map(({ goalId }) => goalId)).toEqual([
      last,
      ...before.map(({ goalId }) => goalId).filter((goalId) => goalId !== last),
    ]);
    expect(after[0]?.number).toBe("1b");
    const wren = await inScope(db.app, demo.person("noor"), demo.student("Wren"), (scope) =>
      listGoals(scope, demo.student("Wren")),
    );
    expect(wren[0]?.number).toBe("2b");
  });
});
