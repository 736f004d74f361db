import { isDeepStrictEqual } from "node:util";
import type { RevisedActs, RevisedContent } from "#core/model/revision.ts";
import { recordStep } from "./revisions.ts";
import type { CircleRole } from "../access/actor.ts";
import type { Criterion } from "#core/criteria/criterion.ts";
import type { Measure } from "#core/measures/measure.ts";
import type { Goal } from "#core/model/goal.ts";
import type { Schedule } from "#core/schedule/schedule.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import { recordEvent } from "./events.ts";
import type { SummarisedGoal } from "#core/progress/goal-figures.ts";
import { lockGoal, writeSummaries } from "./summaries.ts";

/** Everything a person sets up of a goal. */
export interface GoalContent {
  number: string;
  title: string;
  area: string;
  wording: string;
  measure: Measure;
  criterion: Criterion | null;
  startOn: string | null;
  dueOn: string | null;
  annualReviewOn: string | null;
  enteredBaseline: { date: string; value: number } | null;
  baselineEntries: number | null;
  schedule: Schedule | null;
  strategy: string;
  measuredBy: string | null;
  parentId: string | null;
}

/** What a goal passes on to one that is made from it: everything but its dates, its entered baseline and the goal it belongs to. */
export const contentAnew = (
  goal: Goal,
): Omit<GoalContent, "startOn" | "dueOn" | "annualReviewOn" | "parentId"> => ({
  ...{ number: goal.number, title: goal.title, area: goal.area, wording: goal.wording },
  ...{ measure: goal.measure, criterion: goal.setup.criterion, enteredBaseline: null },
  baselineEntries: goal.setup.baselineEntries ?? null,
  ...{ schedule: goal.schedule, strategy: goal.strategy, measuredBy: goal.measuredBy },
});

export type GoalAct = RevisedActs["goal"];

interface Ids {
  studentId: string;
  goalId: string;
}

function columnsOf(content: GoalContent) {
  return {
    number: content.number,
    title: content.title,
    area: content.area,
    wording: content.wording,
    criterion: content.criterion === null ? null : JSON.stringify(content.criterion),
    baseline_on: content.enteredBaseline?.date ?? null,
    baseline_value: content.enteredBaseline?.value ?? null,
    baseline_entries: content.baselineEntries,
    start_on: content.startOn,
    due_on: content.dueOn,
    annual_review_on: content.annualReviewOn,
    schedule: content.schedule === null ? null : JSON.stringify(content.schedule),
    strategy: content.strategy,
    measured_by: content.measuredBy,
    parent_id: content.parentId,
  };
}

/** What a revision keeps: enough to say what stood before, and since when. */
function snapshot(content: RevisedContent["goal"]["setUp"]): RevisedContent["goal"]["setUp"] {
  const { number, title, area, wording, criterion, measure, dueOn } = content;
  return { number, title, area, wording, criterion, measure, dueOn };
}

/** Makes the kept facts of a goal anew after its set-up has changed; the row is locked already. */
async function refresh({ trx, schoolId }: Scope, { studentId, goalId }: Ids): Promise<SummarisedGoal> {
  const goal = (await lockGoal(trx, schoolId, goalId, studentId)) ?? notFound();
  await writeSummaries(trx, schoolId, [goal]);
  return goal;
}

async function requireParent({ trx, schoolId }: Scope, ids: Ids, parentId: string | null): Promise<void> {
  if (parentId === null) return;
  const { rows } = await trx.raw<{ rows: unknown[] }>(
    `select 1 from goals where school_id = ? and goal_id = ? and student_id = ? and parent_id is null and goal_id <> ?`,
    [schoolId, parentId, ids.studentId, ids.goalId],
  );
  if (rows.length === 0) notFound();
}

/** Adds a goal at the end of a student's page. The same id sent twice is one goal. */
export async function addGoal(
  scope: PersonScope,
  ids: Ids,
  content: GoalContent,
  { today, continues = null }: { today: string; continues?: string | null },
): Promise<"saved" | "already"> {
  requirePermission(scope, "goal.edit");
  const { trx, schoolId } = scope;
  await requireParent(scope, ids, content.parentId);
  const there = await trx.raw<{ rows: { student_id: string }[] }>(
    "select student_id from goals where school_id = ? and goal_id = ?",
    [schoolId, ids.goalId],
  );
  if (there.rows[0]) return there.rows[0].student_id === ids.studentId ? "already" : notFound();
  const key = { school_id: schoolId, goal_id: ids.goalId };
  await trx("goals").insert({
    ...key,
    ...columnsOf(content),
    student_id: ids.studentId,
    continues,
    position: trx.raw(
      "(select coalesce(max(position), -1) + 1 from goals where school_id = ? and student_id = ?)",
      [schoolId, ids.studentId],
    ),
  });
  await trx("goal_measures").insert({ ...key, version: 1, measure: JSON.stringify(content.measure) });
  await trx("goal_summaries").insert({ ...key, student_id: ids.studentId });
  await refresh(scope, ids);
  await recordStep(scope, "goal", {
    ...{ studentId: ids.studentId, thingId: ids.goalId, revision: 1, act: "made" },
    content: { fromOn: content.startOn ?? today, setUp: snapshot(content) },
  });
  return "saved";
}

export interface GoalChange {
  expectedRevision: number;
  fromOn: string;
  reason: string;
  /** Where the measure changes: do the earlier entries still compare with the new ones? */
  compares: boolean;
  /** Earlier name of a part → its name from now on. */
  renamed: Record<string, string>;
}

/**
 * Changes a goal and keeps what its entries meant: the earlier set-up stands in its history, a changed measure closes the
 * version before it, and entries that no longer compare leave the figures but not the goal.
 */
export async function changeGoal(
  scope: PersonScope,
  ids: Ids,
  content: GoalContent,
  change: GoalChange,
): Promise<"saved" | "conflict"> {
  requirePermission(scope, "goal.edit");
  const { trx, schoolId } = scope;
  const goal = (await lockGoal(trx, schoolId, ids.goalId, ids.studentId)) ?? notFound();
  if (goal.revision !== change.expectedRevision) return "conflict";
  await requireParent(scope, ids, content.parentId);
  const key = { school_id: schoolId, goal_id: ids.goalId };
  const measureChanges = !isDeepStrictEqual(asStored(goal.measure), asStored(content.measure));
  const version = goal.measureVersion + (measureChanges ? 1 : 0);
  if (measureChanges) {
    await trx("goal_measures")
      .where({ ...key, version: goal.measureVersion })
      .update({ closed_at: trx.raw("clock_now()") });
    await trx("goal_measures").insert({
      ...key,
      version,
      measure: JSON.stringify(content.measure),
      renamed: JSON.stringify(change.renamed),
    });
  }
  await trx("goals")
    .where(key)
    .update({
      ...columnsOf(content),
      measure_version: version,
      ...(measureChanges && !change.compares ? { figures_from_version: version } : {}),
      revision: goal.revision + 1,
    });
  await refresh(scope, ids);
  await recordStep(scope, "goal", {
    ...{ studentId: ids.studentId, thingId: ids.goalId, revision: goal.revision + 1, act: "changed" },
    reason: change.reason,
    content: { fromOn: change.fromOn, setUp: snapshot(content) },
  });
  return "saved";
}

/** As a database gives it back: without what is undefined. */
const asStored = (value: object): unknown => JSON.parse(JSON.stringify(value));

/** Sets the state of a goal: met, not met, discontinued, continued, taken up again. */
export async function decideGoal(
  scope: PersonScope,
  ids: Ids,
  decision: {
    act: Exclude<GoalAct, "made" | "changed">;
    on: string;
    reason: string;
    expectedRevision: number;
  },
): Promise<"saved" | "conflict"> {
  requirePermission(scope, "goal.edit");
  const { trx, schoolId } = scope;
  const goal = (await lockGoal(trx, schoolId, ids.goalId, ids.studentId)) ?? notFound();
  if (goal.revision !== decision.expectedRevision) return "conflict";
  const { act, on, reason } = decision;
  const ends = act === "discontinued" || act === "continued";
  await trx("goals")
    .where({ school_id: schoolId, goal_id: ids.goalId })
    .update({
      ...(act === "met" ? { met_on: on } : act === "not met" ? { met_on: null } : {}),
      ...(ends || act === "taken up again"
        ? { ended: ends ? act : null, ended_on: ends ? on : null, ended_reason: ends ? reason : "" }
        : {}),
      revision: goal.revision + 1,
    });
  await refresh(scope, ids);
  const { criterion, dueOn } = goal.setup;
  await recordStep(scope, "goal", {
    ...{ studentId: ids.studentId, thingId: ids.goalId, revision: goal.revision + 1, act, reason },
    content: { fromOn: on, setUp: snapshot({ ...goal, criterion, dueOn }) },
  });
  return "saved";
}

/** Deletes a goal that was set up by mistake: only where nothing was recorded for it and no other goal stands under it. */
export async function removeUnusedGoal(scope: PersonScope, ids: Ids): Promise<"removed" | "in use"> {
  requirePermission(scope, "goal.edit");
  const { trx, schoolId } = scope;
  if (!(await lockGoal(trx, schoolId, ids.goalId, ids.studentId))) notFound();
  const { rows } = await trx.raw<{ rows: { removed: boolean }[] }>(
    "select remove_unused_goal(?) as removed",
    [ids.goalId],
  );
  if (!rows[0]?.removed) return "in use";
  await recordEvent(scope, { act: "removed", thing: "goal", thingId: ids.goalId, studentId: ids.studentId });
  return "removed";
}

export interface PhaseContent {
  phaseId: string;
  name: string;
  startsOn: string;
  reason: string;
  isBaseline: boolean;
}

/** Keeps a phase, new or changed, and draws the figures again. */
export async function savePhase(scope: PersonScope, ids: Ids, phase: PhaseContent): Promise<void> {
  requirePermission(scope, "goal.edit");
  const { trx, schoolId } = scope;
  if (!(await lockGoal(trx, schoolId, ids.goalId, ids.studentId))) notFound();
  const { rows } = await trx.raw<{ rows: unknown[] }>(
    `insert into goal_phases (school_id, phase_id, goal_id, name, is_baseline, starts_on, reason)
     values (:schoolId, :phaseId, :goalId, :name, :isBaseline, :startsOn, :reason)
     on conflict (school_id, phase_id) do update
       set name = excluded.name, is_baseline = excluded.is_baseline, starts_on = excluded.starts_on, reason = excluded.reason
       where goal_phases.goal_id = excluded.goal_id
     returning phase_id`,
    { ...phase, schoolId, goalId: ids.goalId },
  );
  if (rows.length === 0) notFound();
  await refresh(scope, ids);
  await recordEvent(scope, {
    act: "phase saved",
    thing: "goal",
    thingId: ids.goalId,
    studentId: ids.studentId,
  });
}

/**
 * Deletes a phase of a goal; its entries stay and belong to the phase before.
 *
 * @throws NotFound, Refused
 */
export async function removePhase(scope: PersonScope, ids: Ids, phaseId: string): Promise<void> {
  requirePermission(scope, "goal.edit");
  const { trx, schoolId } = scope;
  if (!(await lockGoal(trx, schoolId, ids.goalId, ids.studentId))) notFound();
  await trx("goal_phases").where({ school_id: schoolId, goal_id: ids.goalId, phase_id: phaseId }).delete();
  await refresh(scope, ids);
  await recordEvent(scope, {
    act: "phase removed",
    thing: "goal",
    thingId: ids.goalId,
    studentId: ids.studentId,
  });
}

/** Puts a student's goals in the order and numbering of the IEP page. Goals that are not named keep theirs, after those that are. */
export async function orderGoals(
  scope: PersonScope,
  studentId: string,
  goals: readonly { goalId: string; number: string }[],
): Promise<void> {
  requirePermission(scope, "goal.edit");
  const { trx, schoolId } = scope;
  await trx.raw(
    `update goals g set position = o.place, number = coalesce(o.new_number, g.number) from (
       select goal_id,
         row_number() over (order by coalesce(array_position(:goalIds::uuid[], goal_id), 100000), position) as place,
         (:numbers::text[])[array_position(:goalIds::uuid[], goal_id)] as new_number
       from goals where school_id = :schoolId and student_id = :studentId) o
     where g.school_id = :schoolId and g.goal_id = o.goal_id`,
    {
      schoolId,
      studentId,
      goalIds: goals.map(({ goalId }) => goalId),
      numbers: goals.map(({ number }) => number),
    },
  );
  await recordEvent(scope, { act: "goals ordered", thing: "student", thingId: studentId, studentId });
}

/** Names that parts of each goal's measure had in earlier versions → the names they have now, by goal. */
export async function listRenamedPartsOf(
  { trx, schoolId }: Scope,
  goalIds: readonly string[],
): Promise<Map<string, Map<string, string>>> {
  const { rows } = await trx.raw<{ rows: { goal_id: string; renamed: Record<string, string> }[] }>(
    "select goal_id, renamed from goal_measures where school_id = ? and goal_id = any(?) order by goal_id, version",
    [schoolId, [...goalIds]],
  );
  const ofGoals = new Map<string, Map<string, string>>();
  for (const { goal_id, renamed } of rows) {
    const now = ofGoals.get(goal_id) ?? new Map<string, string>();
    ofGoals.set(goal_id, now);
    for (const [before, after] of Object.entries(renamed)) {
      for (const [first, last] of now) if (last === before) now.set(first, after);
      now.set(before, after);
    }
  }
  return ofGoals;
}

/** The same of one goal. */
export const listRenamedParts = async (scope: Scope, goalId: string): Promise<Map<string, string>> =>
  (await listRenamedPartsOf(scope, [goalId])).get(goalId) ?? new Map();

/** The people of a student's circle, for "who usually measures it". */
export async function listCircle(
  { trx, schoolId }: Scope,
  studentId: string,
): Promise<{ personId: string; name: string; circleRole: CircleRole; position: string }[]> {
  const { rows } = await trx.raw<{
    rows: {
      person_id: string;
      given_name: string;
      family_name: string;
      part: CircleRole;
      position: string;
    }[];
  }>(
    `select p.person_id, p.given_name, p.family_name, p.position, c.part
     from circle c join people p on p.school_id = c.school_id and p.person_id = c.person_id
     where c.school_id = ? and c.student_id = ? and in_circle_now(c.from_on, c.to_on) and p.left_on is null
     order by case c.part when 'lead' then 0 when 'record' then 1 else 2 end, p.given_name, p.family_name`,
    [schoolId, studentId],
  );
  return rows.map((row) => ({
    personId: row.person_id,
    name: `${row.given_name} ${row.family_name}`,
    circleRole: row.part,
    position: row.position,
  }));
}
