import type { Decision } from "#core/model/decision.ts";
import { type DecisionKind, phaseKinds } from "#core/model/decision-kinds.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import { recordStep } from "./revisions.ts";
import { savePhase } from "./goals.ts";
import { shortName } from "#core/model/student-names.ts";
import type { Wanted } from "./wanted.ts";
import type { Tables } from "./tables.ts";

export interface NewDecision {
  decisionId: string;
  kind: DecisionKind;
  on: string;
  reason: string;
  /** The phase that begins with it; its id was made by the form. */
  phase: { phaseId: string; name: string } | null;
}

/** Inserts a decision and the phase that it begins. The same id sent twice is one decision. */
export async function addDecision(
  scope: PersonScope,
  ids: { studentId: string; goalId: string },
  { decisionId, kind, on, reason, phase }: NewDecision,
): Promise<"saved" | "already"> {
  requirePermission(scope, kind === "taught as planned" ? "taught.note" : "goal.edit");
  const { trx, schoolId, actor } = scope;
  const { rows: goals } = await trx.raw<{ rows: unknown[] }>(
    "select 1 from goals where school_id = ? and goal_id = ? and student_id = ?",
    [schoolId, ids.goalId, ids.studentId],
  );
  if (goals.length === 0) notFound();
  const added = await trx("goal_decisions")
    .insert({
      ...{ school_id: schoolId, decision_id: decisionId, student_id: ids.studentId },
      ...{ goal_id: ids.goalId, author_id: actor.personId, kind, decided_on: on, reason },
      phase_name: phase?.name ?? null,
    })
    .onConflict(["school_id", "decision_id"])
    .ignore()
    .returning<unknown[]>("decision_id");
  if (added.length === 0) return "already";
  if (phase && phaseKinds.includes(kind))
    await savePhase(scope, ids, { ...phase, startsOn: on, reason, isBaseline: false });
  await recordStep(scope, "decision", {
    studentId: ids.studentId,
    thingId: decisionId,
    revision: 1,
    act: "made",
    content: { on, reason },
  });
  return "saved";
}

interface DecisionRow extends Pick<
  Tables["goal_decisions"],
  "decision_id" | "goal_id" | "author_id" | "kind" | "decided_on" | "reason" | "phase_name" | "revision"
> {
  given_name: string;
  family_name: string;
  removed_when: string | null;
  removed_given: string | null;
  removed_family: string | null;
}

/** A student's decisions, the newest first, those that were removed too. */
export async function listDecisions(
  { trx, schoolId, timeZone }: Scope,
  studentId: string,
  { limit = null, ids = null }: Wanted = {},
): Promise<Decision[]> {
  const { rows } = await trx.raw<{ rows: DecisionRow[] }>(
    `select d.decision_id, d.goal_id, d.author_id, d.kind, d.decided_on, d.reason, d.phase_name, d.revision,
       p.given_name, p.family_name, r.given_name as removed_given, r.family_name as removed_family,
       to_char(d.removed_at at time zone :timeZone, 'YYYY-MM-DD HH24:MI') as removed_when
     from goal_decisions d
     join people p on p.school_id = d.school_id and p.person_id = d.author_id
     left join people r on r.school_id = d.school_id and r.person_id = d.removed_by
     where d.school_id = :schoolId and d.student_id = :studentId
       and (:ids::uuid[] is null or d.decision_id = any(:ids))
     order by d.decided_on desc, d.made_at desc, d.decision_id limit :limit`,
    { schoolId, timeZone, studentId, limit, ids: ids && [...ids] },
  );
  return rows.map((row) => ({
    ...{ decisionId: row.decision_id, goalId: row.goal_id, authorId: row.author_id, kind: row.kind },
    ...{ on: row.decided_on, reason: row.reason, phaseName: row.phase_name, revision: row.revision },
    author: shortName(row.given_name, row.family_name),
    removed:
      row.removed_when === null
        ? null
        : { by: shortName(row.removed_given ?? "", row.removed_family ?? ""), when: row.removed_when },
  }));
}

interface DecisionIds {
  studentId: string;
  decisionId: string;
}

/**
 * One decision about a goal of a student.
 *
 * @throws NotFound
 */
export async function findDecision(
  scope: PersonScope,
  { studentId, decisionId }: DecisionIds,
): Promise<Decision> {
  return (await listDecisions(scope, studentId)).find((one) => one.decisionId === decisionId) ?? notFound();
}

/**
 * Corrects day and reason of a decision; what stood before is kept. A phase line that it began stays where it is.
 *
 * @param expectedRevision the one that stood when the form was opened
 */
export async function correctDecision(
  scope: PersonScope,
  ids: DecisionIds,
  {
    on,
    reason,
    why,
    expectedRevision,
  }: { on: string; reason: string; why: string | null; expectedRevision: number },
): Promise<"saved" | "conflict"> {
  const found = await findDecision(scope, ids);
  requirePermission(scope, "entry.correct", found.authorId);
  const { trx, schoolId } = scope;
  if (found.removed !== null) return "conflict";
  if (found.on === on && found.reason === reason) return "saved";
  const { rows } = await trx.raw<{ rows: { revision: number }[] }>(
    `update goal_decisions set decided_on = :on, reason = :reason, revision = revision + 1
     where school_id = :schoolId and decision_id = :decisionId and removed_at is null and revision = :expectedRevision
     returning revision`,
    { on, reason, expectedRevision, schoolId, decisionId: ids.decisionId },
  );
  const [made] = rows;
  if (!made) return "conflict";
  const step = { thingId: ids.decisionId, revision: made.revision, act: "corrected" as const };
  await recordStep(scope, "decision", {
    studentId: ids.studentId,
    ...step,
    reason: why,
    content: { on, reason },
  });
  return "saved";
}

/** Takes a decision out of the report, or puts it back; a phase line that it began stays. */
export async function changeDecision(
  scope: PersonScope,
  ids: DecisionIds,
  act: "removed" | "restored",
): Promise<void> {
  const found = await findDecision(scope, ids);
  requirePermission(scope, "entry.remove", found.authorId);
  const { trx, actor, schoolId } = scope;
  const { rows } = await trx.raw<{ rows: { revision: number }[] }>(
    `update goal_decisions set removed_at = ${act === "removed" ? "clock_now()" : "null"}, removed_by = :by, revision = revision + 1
     where school_id = :schoolId and decision_id = :decisionId and (removed_at is null) = (:act = 'removed')
     returning revision`,
    { by: act === "removed" ? actor.personId : null, schoolId, decisionId: ids.decisionId, act },
  );
  const [made] = rows;
  if (!made) return;
  const { on, reason } = found;
  const step = { thingId: ids.decisionId, revision: made.revision, act };
  await recordStep(scope, "decision", { studentId: ids.studentId, ...step, content: { on, reason } });
}
