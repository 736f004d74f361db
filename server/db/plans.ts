import type { Plan, PlanContent } from "#core/model/plan.ts";
import type { Revision } from "#core/model/revision.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import { recordStep, listRevisionsOf } from "./revisions.ts";
import type { SaveOutcome } from "./entries.ts";
import { shortName } from "#core/model/student-names.ts";
import type { Tables } from "./tables.ts";

/** A plan with everything that happened to it, its first version first. */
export interface PlanWithHistory extends Plan {
  history: Revision<"plan">[];
}

const columns = (plan: PlanContent) => ({
  name: plan.name,
  thinking: plan.thinking,
  trying: plan.trying,
  begins_on: plan.beginsOn,
  ends_on: plan.endsOn,
});

/** Inserts a plan. The form made its id: sent twice, it is one. */
export async function addPlan(
  scope: PersonScope,
  { studentId, planId }: { studentId: string; planId: string },
  plan: PlanContent,
): Promise<SaveOutcome> {
  requirePermission(scope, "plan.write");
  const { trx, schoolId, actor } = scope;
  const added = await trx("plans")
    .insert({
      ...{ school_id: schoolId, plan_id: planId, student_id: studentId, author_id: actor.personId },
      ...columns(plan),
    })
    .onConflict(["school_id", "plan_id"])
    .ignore()
    .returning<unknown[]>("plan_id");
  if (added.length === 0) return "already";
  await recordStep(scope, "plan", { studentId, thingId: planId, revision: 1, act: "made", content: plan });
  return "saved";
}

/** Changes a plan, removes it or puts it back. The earlier version stays in its history. */
export async function changePlan(
  scope: PersonScope,
  { studentId, planId }: { studentId: string; planId: string },
  expectedRevision: number,
  change: PlanContent | "removed" | "kept",
): Promise<SaveOutcome> {
  const { trx, schoolId } = scope;
  const { rows } = await trx.raw<{ rows: Omit<PlanRow, "plan_id" | "given_name" | "family_name">[] }>(
    "select author_id, state, revision, name, thinking, trying, begins_on, ends_on from plans where school_id = ? and plan_id = ? and student_id = ? for update",
    [schoolId, planId, studentId],
  );
  const stands = rows[0] ?? notFound();
  requirePermission(scope, "plan.correct", stands.author_id);
  if (stands.state === change) return "already";
  if (stands.revision !== expectedRevision || (stands.state === "removed" && change !== "kept"))
    return "conflict";
  await trx("plans")
    .where({ school_id: schoolId, plan_id: planId })
    .update({
      ...(typeof change === "string" ? { state: change } : columns(change)),
      revision: stands.revision + 1,
    });
  const act = change === "removed" ? "removed" : change === "kept" ? "restored" : "corrected";
  const content = typeof change === "string" ? toContent(stands) : change;
  await recordStep(scope, "plan", {
    ...{ studentId, thingId: planId, revision: stands.revision + 1, act, content },
  });
  return "saved";
}

interface PlanRow extends Pick<
  Tables["plans"],
  "plan_id" | "author_id" | "name" | "thinking" | "trying" | "begins_on" | "ends_on" | "state" | "revision"
> {
  given_name: string;
  family_name: string;
}

const toContent = (row: Pick<PlanRow, "name" | "thinking" | "trying" | "begins_on" | "ends_on">) => ({
  ...{ name: row.name, thinking: row.thinking, trying: row.trying },
  ...{ beginsOn: row.begins_on, endsOn: row.ends_on },
});

/** A student's plans by the day they began, those that were removed too. */
export async function listPlans(scope: Scope, studentId: string): Promise<PlanWithHistory[]> {
  const { trx, schoolId } = scope;
  const { rows } = await trx.raw<{ rows: PlanRow[] }>(
    `select l.*, p.given_name, p.family_name from plans l
     join people p on p.school_id = l.school_id and p.person_id = l.author_id
     where l.school_id = ? and l.student_id = ? order by l.begins_on, l.plan_id`,
    [schoolId, studentId],
  );
  const history = await listRevisionsOf(
    scope,
    "plan",
    rows.map(({ plan_id }) => plan_id),
  );
  return rows.map((row) => ({
    planId: row.plan_id,
    authorId: row.author_id,
    author: shortName(row.given_name, row.family_name),
    ...{ state: row.state, revision: row.revision },
    ...toContent(row),
    history: history.get(row.plan_id) ?? [],
  }));
}
