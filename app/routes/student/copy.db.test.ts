import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { listRevisions } from "#server/db/revisions.ts";
import type { Goal } from "#core/model/goal.ts";
import { listGoals } from "#server/db/students.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import { type Caller, caller, leadsTo, problemsOf } from "#tests/route.ts";
import { action, loader } from "./copy.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let noor: Caller;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  noor = await caller(db.app, "noor");
});
afterAll(() => db.close());

const send = (from: string, fields: Record<string, string>) =>
  noor.send(action, fields, { studentId: demo.student(from) });
const offer = (from: string) => noor.load(loader, { studentId: demo.student(from) });
const goalsOf = (given: string) =>
  inScope(db.app, demo.person("noor"), demo.student(given), (scope) => listGoals(scope, demo.student(given)));
async function entriesOf(goalIds: string[]): Promise<number> {
  return (await db.owner("entries").whereIn("goal_id", goalIds)).length;
}

/** What the page would send for these goals of a student. */
function picked(goals: readonly Pick<Goal, "goalId">[], wording: string, due = "2027-10-01") {
  return Object.fromEntries(
    goals.flatMap(({ goalId }) => [
      [`pick.${goalId}`, "yes"],
      [`id.${goalId}`, newId()],
      [`wording.${goalId}`, wording],
      [`due.${goalId}`, due],
    ]),
  );
}
const dates = { startOn: "2026-12-01", annualReviewOn: "2027-12-01" };

describe("copying goals", () => {
  it("offers every wording with the student's own name and due date as blanks", async () => {
    const { goals, targets } = await offer("Wren");
    expect(goals[0]?.wording).toMatch(/^By \{date\}, .*, \{student\} will solve/);
    expect(goals.map(({ wording }) => wording).join()).not.toMatch(/Wren/);
    expect(targets.map(({ calledName }) => calledName)).toContain("Toby");
    expect(targets).toHaveLength(14);
  });

  it("takes a whole set-up to another student, without an entry and without the first one's name", async () => {
    const before = await goalsOf("Rafi");
    const wrens = await goalsOf("Wren");
    await db.owner("goals").where({ goal_id: wrens[0]?.goalId }).update({
      strategy: "Wren’s mat, then Wren Abara tells.",
      title: "Wren subtracts",
    });
    const fields = {
      ...dates,
      target: demo.student("Rafi"),
      ...picked(wrens, "By October 1, 2027, Rafi will try."),
    };
    expect(await leadsTo(send("Wren", fields))).toMatch(/^\/students\/.*\/goals\//);
    await send("Wren", fields);
    const after = (await goalsOf("Rafi")).slice(before.length);
    expect(after.map(({ measure }) => measure)).toEqual(wrens.map(({ measure }) => measure));
    expect(after.map(({ setup }) => setup.criterion)).toEqual(wrens.map(({ setup }) => setup.criterion));
    expect(after[0]).toMatchObject({
      title: "Rafi subtracts",
      strategy: "Rafi’s mat, then Rafi tells.",
      startOn: dates.startOn,
      annualReviewOn: dates.annualReviewOn,
      setup: { dueOn: "2027-10-01", enteredBaseline: null, phases: [], metOn: null },
      continues: null,
      summary: { entries: 0 },
    });
    expect(await entriesOf(after.map(({ goalId }) => goalId))).toBe(0);
    // Rafi's own number 1 stays his; each copy has a number that no other goal of his has.
    const numbers = (await goalsOf("Rafi")).map(({ number }) => number);
    expect(new Set(numbers).size).toBe(numbers.length);
    // Whoever measured it for Wren and is not in Rafi's circle does not measure it for him.
    const circle = await db.owner("circle").where({ student_id: demo.student("Rafi") });
    const known = new Set(circle.map(({ person_id }: { person_id: string }) => person_id));
    expect(after.every(({ measuredBy }) => measuredBy === null || known.has(measuredBy))).toBe(true);
  });

  it("goes on next year under the same numbers, objectives under their goals, the old ones closed", async () => {
    const [first, second] = await goalsOf("Otis");
    if (!first || !second) throw new Error("the demo has too few goals");
    // On the page an objective may stand before the goal it belongs to.
    await db.owner("goals").where({ goal_id: first.goalId }).update({ parent_id: second.goalId });
    const fields = {
      ...dates,
      target: demo.student("Otis"),
      close: "yes",
      ...picked([first, second], "Otis will read."),
    };
    await send("Otis", fields);
    const goals = await goalsOf("Otis");
    const old = goals.filter(({ goalId }) => [first.goalId, second.goalId].includes(goalId));
    expect(old.map(({ ended }) => ended?.how)).toEqual(["continued", "continued"]);
    expect(await entriesOf([first.goalId])).toBeGreaterThan(10);
    const [next, under] = goals.slice(-2);
    expect(next).toMatchObject({ number: second.number, continues: second.goalId, parentId: null });
    expect(under).toMatchObject({
      number: first.number,
      continues: first.goalId,
      parentId: next?.goalId,
    });
    const history = await inScope(db.app, demo.person("noor"), demo.student("Otis"), (scope) =>
      listRevisions(scope, "goal", first.goalId),
    );
    expect(history.at(-1)).toMatchObject({ act: "continued", by: "N. Halloran" });
  });

  it("copies nothing where one wording is not right yet, and says beside it why", async () => {
    const before = await goalsOf("Lumi");
    const [goal, other] = await goalsOf("Hollis");
    if (!goal || !other) throw new Error("the demo has too few goals");
    const target = demo.student("Lumi");
    const problems = async (fields: Record<string, string>) =>
      (await problemsOf(send("Hollis", { ...dates, target, ...fields }))).problems;
    const wording = `wording.${goal.goalId}`;
    const fine = picked([other], "Lumi will try.");
    expect(await problems({})).toEqual({ form: "Pick at least one goal." });
    expect(await problems({ ...fine, ...picked([goal], "Lumi and Hollis will try.") })).toEqual({
      [wording]: "It still names Hollis.",
    });
    expect(await problems({ ...fine, ...picked([goal], "By {date}, Lumi …") })).toEqual({
      [wording]: "What replaces {date}?",
    });
    expect(await problems({ ...fine, ...picked([goal], " ") })).toMatchObject({
      [wording]: expect.any(String) as string,
    });
    expect(await problems({ ...fine, ...picked([goal], "Lumi", "2026-02-31") })).toEqual({
      [`due.${goal.goalId}`]: "There is no such date.",
    });
    expect(await problems({ ...fine, ...picked([goal], "Lumi", "2026-11-30") })).toEqual({
      [`due.${goal.goalId}`]: "The due date lies before the start.",
    });
    expect(await problems({ startOn: "soon", ...fine })).toHaveProperty("startOn");
    expect(await goalsOf("Lumi")).toEqual(before);
  });

  it("is refused towards a student whom the person does not lead", async () => {
    const goals = await goalsOf("Wren");
    const target = demo.student("Priya");
    await db
      .owner("circle")
      .where({ student_id: target, person_id: demo.person("noor").personId })
      .update({ part: "record" });
    const fields = { ...dates, target, ...picked(goals, "Priya will try.") };
    await expect(send("Wren", fields)).rejects.toMatchObject({ init: { status: 403 } });
    await expect(send("Wren", { ...fields, target: newId() })).rejects.toMatchObject({
      init: { status: 404 },
    });
    const { targets } = await offer("Wren");
    expect(targets.map(({ studentId }) => studentId)).not.toContain(target);
  });
});
