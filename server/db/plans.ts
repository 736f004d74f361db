import type { Plan, PlanContent } from "#core/model/plan.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import { recordEvent } from "./events.ts";
import type { SaveOutcome } from "./entries.ts";
import { shortName } from "#core/model/student-names.ts";

/** One step in the history of a plan. */
export interface PlanRevision extends PlanContent {
  revision: number;
  act: "made" | "corrected" | "removed" | "restored";
  by: string;
  on: string;
}

/** A plan with everything that happened to it, its first version first. */
export interface PlanWithHistory extends Plan {
  history: PlanRevision[];
}

const columns = (plan: PlanContent) => ({
  name: plan.name,
  thinking: plan.thinking,
  trying: plan.trying,
  begins_on: plan.beginsOn,
  ends_on: plan.endsOn,
});

async function keepRevision(scope: PersonScope, planId: string, studentId: string, act: PlanRevision["act"]) {
  const { trx, actor, schoolId } = scope;
  await trx.raw(
    `insert into plan_revisions (school_id, plan_id, revision, act, person_id, name, thinking, trying, begins_on, ends_on)
     select school_id, plan_id, revision, ?, ?, name, thinking, trying, begins_on, ends_on from plans
     where school_id = ? and plan_id = ?`,
    [act, actor.personId, schoolId, planId],
  );
  await recordEvent(scope, { act, thing: "plan", thingId: planId, studentId });
}

/** Keeps a new plan. The id was made by the form: sent twice, it is one. */
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
  await keepRevision(scope, planId, studentId, "made");
  return "saved";
}

/** Changes a plan, removes it or puts it back; what stood before stays in its history. */
export async function changePlan(
  scope: PersonScope,
  { studentId, planId }: { studentId: string; planId: string },
  expectedRevision: number,
  change: PlanContent | "removed" | "kept",
): Promise<SaveOutcome> {
  const { trx, schoolId } = scope;
  const { rows } = await trx.raw<{ rows: { author_id: string; state: string; revision: number }[] }>(
    "select author_id, state, revision from plans where school_id = ? and plan_id = ? and student_id = ? for update",
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
  await keepRevision(scope, planId, studentId, act);
  return "saved";
}

interface PlanRow {
  plan_id: string;
  author_id: string;
  name: string;
  thinking: string;
  trying: string;
  begins_on: string;
  ends_on: string | null;
  state: "kept" | "removed";
  revision: number;
  given_name: string;
  family_name: string;
}

const toContent = (row: Pick<PlanRow, "name" | "thinking" | "trying" | "begins_on" | "ends_on">) => ({
  ...{ name: row.name, thinking: row.thinking, trying: row.trying },
  ...{ beginsOn: row.begins_on, endsOn: row.ends_on },
});

/** A student's plans by the day they began, those that were removed too. */
export async function listPlans(
  { trx, schoolId, timeZone }: Scope,
  studentId: string,
): Promise<PlanWithHistory[]> {
  const { rows } = await trx.raw<{ rows: PlanRow[] }>(
    `select l.*, p.given_name, p.family_name from plans l
     join people p on p.school_id = l.school_id and p.person_id = l.author_id
     where l.school_id = ? and l.student_id = ? order by l.begins_on, l.plan_id`,
    [schoolId, studentId],
  );
  const steps = await trx.raw<{
    rows: (PlanRow & { act: PlanRevision["act"]; on: string })[];
  }>(
    `select r.*, (r.at at time zone ?)::date as on, p.given_name, p.family_name from plan_revisions r
     join plans l on l.school_id = r.school_id and l.plan_id = r.plan_id
     join people p on p.school_id = r.school_id and p.person_id = r.person_id
     where r.school_id = ? and l.student_id = ? order by r.plan_id, r.revision`,
    [timeZone, schoolId, studentId],
  );
  return rows.map((row) => ({
    planId: row.plan_id,
    authorId: row.author_id,
    author: shortName(row.given_name, row.family_name),
    ...{ state: row.state, revision: row.revision },
    ...toContent(row),
    history: steps.rows
      .filter(({ plan_id }) => plan_id === row.plan_id)
      .map((step) => ({
        ...{ revision: step.revision, act: step.act, on: step.on, ...toContent(step) },
        by: shortName(step.given_name, step.family_name),
      })),
  }));
}
