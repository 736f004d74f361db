import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import type * as z from "zod/mini";
import { decisionSchema } from "#core/model/decision.ts";
import { entryRecordSchema, notMeasuredSchema } from "#core/model/entry.ts";
import { goalSchema } from "#core/model/goal.ts";
import { incidentSchema } from "#core/model/incident.ts";
import { patternNoteSchema } from "#core/model/pattern-note.ts";
import { planSchema } from "#core/model/plan.ts";
import { studentSchema } from "#core/model/student.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import { addDecision, correctDecision, listDecisions } from "./decisions.ts";
import { saveNotMeasured } from "./not-measured.ts";
import { keepSitting } from "./sittings.ts";
import { addPatternNote } from "./pattern-notes.ts";
import { addPlan, listPlans } from "./plans.ts";
import { readReport } from "./report.ts";
import { findStudent, listGoals } from "./students.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  const studentId = demo.student("Wren");
  // What the demo has none of.
  await inScope(db.app, demo.person("noor"), studentId, async (scope) => {
    const decisionId = newId();
    const on = scope.today;
    await addDecision(
      scope,
      { studentId, goalId: demo.goal("Wren", "2b") },
      {
        ...{ decisionId, on, reason: "The line is flat." },
        ...{ kind: "new phase", phase: { phaseId: newId(), name: "number line" } },
      },
    );
    const correction = { on, reason: "The line has been flat for a month.", why: null, expectedRevision: 1 };
    await correctDecision(scope, { studentId, decisionId }, correction);
    await addPlan(
      scope,
      { studentId, planId: newId() },
      { name: "a", thinking: "b", trying: "c", beginsOn: on, endsOn: null },
    );
    const sittingId = newId();
    await keepSitting(scope, { sittingId, startedAt: scope.now.toISOString() });
    await saveNotMeasured(scope, {
      ...{ studentId, goalId: demo.goal("Wren", "2b"), noteId: newId(), sittingId },
      ...{ observedLocal: `${on}T09:00:00`, reason: "refused", note: null, noteForTeam: false },
    });
    const found = { words: "a sentence", strength: "weak", from: on, to: on } as const;
    await addPatternNote(scope, { studentId, noteId: newId() }, found);
  });
});
afterAll(() => db.close());

/** What a thing is read with and is no part of it. */
const without = (field: string, things: readonly object[]) =>
  things.map((thing) => Object.fromEntries(Object.entries(thing).filter(([name]) => name !== field)));

/** Everything that is kept of the demo's students. */
async function everything() {
  const ids = await db.owner("students").pluck("student_id");
  const of = await Promise.all(
    ids.map((studentId) =>
      inScope(db.app, demo.person("noor"), studentId, async (scope) => ({
        student: [await findStudent(scope, studentId)],
        goal: without("summary", await listGoals(scope, studentId)),
        plan: without("history", await listPlans(scope, studentId)),
        decision: await listDecisions(scope, studentId),
        ...(await readReport(scope, studentId, { limit: null })).record,
      })),
    ),
  );
  const all = <Kind extends keyof (typeof of)[number]>(kind: Kind): unknown[] =>
    of.flatMap((one) => one[kind] as unknown[]);
  return {
    student: [studentSchema, all("student")],
    goal: [goalSchema, all("goal")],
    plan: [planSchema, all("plan")],
    decision: [decisionSchema, all("decision")],
    entry: [entryRecordSchema, all("entries")],
    "not measured": [notMeasuredSchema, all("notMeasured")],
    incident: [incidentSchema, all("incidents")],
    pattern: [patternNoteSchema, all("patterns")],
  } satisfies Record<string, [z.ZodMiniType, unknown[]]>;
}

describe("what is read from the database", () => {
  it("is what the model says, field by field", async () => {
    const kinds = await everything();
    for (const [kind, [schema, things]] of Object.entries(kinds)) {
      expect(things.length, kind).toBeGreaterThan(0);
      for (const thing of things) {
        const read = schema.safeParse(thing);
        expect(read.error?.issues ?? [], kind).toEqual([]);
        // Nothing that the model does not know: an unknown field is left out by its schema.
        expect(read.data, kind).toEqual(thing);
      }
    }
  });
});
