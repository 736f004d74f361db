import type { DateSpan } from "#core/dates/date-span.ts";
import { localMoment } from "#core/dates/school-time.ts";
import { yearsLater } from "#core/dates/a-year-later.ts";
import type { SummarisedGoal } from "#core/progress/goal-figures.ts";
import { alsoAuthorizeEach } from "../access/authorize.ts";
import { type PersonScope, requirePermission } from "../access/scope.ts";
import { may } from "../access/table.ts";
import { Invalid, notFound } from "../errors.ts";
import { readCalendar, saveYear, type SchoolYear, type YearContent, yearContent } from "./calendar.ts";
import { changePart, listCircleMembers } from "./circle.ts";
import { contentTag } from "./content-tag.ts";
import { recordEvent } from "./events.ts";
import { addGoal, contentAnew, decideGoal, removeUnusedGoal } from "./goals.ts";
import { listGroups, retireGroup } from "./groups.ts";
import { listCircleRoles, listGoals } from "./students.ts";

/** What becomes of a goal at the end of a school year. */
export const goalEnds = ["met", "discontinued", "continued"] as const;
export type GoalEnd = (typeof goalEnds)[number];

/** What is chosen for the next year. What is not named goes on as it is. */
export interface RollOver {
  rollOverId: string;
  /** The new school year; null where it is in the calendar already. */
  year: (DateSpan & { yearId: string; closures: DateSpan[]; reportingPeriods: DateSpan[] }) | null;
  /** Groups that meet no longer. */
  endedGroups: string[];
  students: {
    studentId: string;
    /** The day they leave the school. */
    leavesOn: string | null;
    /** Their grade of the next year, where it is another. */
    grade: string | null;
    goals: { goalId: string; becomes: GoalEnd; newGoalId: string }[];
    /** Whose part in the circle ends, and on which day. */
    parts: { personId: string; toOn: string }[];
  }[];
  /** The day on which new goals begin. */
  newGoalsFrom: string;
}

type Step =
  | { kind: "year"; yearId: string; tag: string }
  | { kind: "group"; groupId: string; retiredOn: string }
  | { kind: "leaving"; leftOn: string }
  | { kind: "grade"; before: string; after: string }
  | { kind: "goal"; goalId: string; act: GoalEnd; revision: number; newGoalId: string | null }
  | { kind: "part"; personId: string; before: string | null; after: string };

interface Taken {
  studentId: string | null;
  step: Step;
}

/** For so many hours it can be undone. */
const hoursToUndo = 24;

/** Groups and students that were changed meanwhile are said, and nothing is done. */
const changed = (what: string): never => {
  throw new Invalid({
    form: `${what} was changed just now by someone else. Nothing was done. Look at it again.`,
  });
};

async function takeYear(scope: PersonScope, year: NonNullable<RollOver["year"]>): Promise<Taken> {
  const { schoolDays } = await readCalendar(scope);
  const content: YearContent = { ...year, schoolDays: [...schoolDays] };
  if ((await saveYear(scope, content, null)) === "conflict") changed("The calendar");
  const { tag } = (await findYear(scope, year.yearId)) ?? notFound();
  return { studentId: null, step: { kind: "year", yearId: year.yearId, tag } };
}

/** A year of the calendar as it is now, with the tag of everything in it; null where it is gone. */
async function findYear(
  scope: PersonScope,
  yearId: string,
): Promise<{ year: SchoolYear; tag: string } | null> {
  const calendar = await readCalendar(scope);
  const year = calendar.years.find((one) => one.yearId === yearId);
  return year ? { year, tag: contentTag(yearContent(calendar, year)) } : null;
}

async function takeGroups(scope: PersonScope, groupIds: readonly string[]): Promise<Taken[]> {
  const there = new Set((await listGroups(scope)).map(({ groupId }) => groupId));
  const taken: Taken[] = [];
  for (const groupId of groupIds) {
    if (!there.has(groupId)) changed("A group");
    await retireGroup(scope, groupId, scope.today);
    taken.push({ studentId: null, step: { kind: "group", groupId, retiredOn: scope.today } });
  }
  return taken;
}

async function takeGoals(
  scope: PersonScope,
  { studentId, goals }: RollOver["students"][number],
  startOn: string,
): Promise<Taken[]> {
  const there = await listGoals(scope, studentId);
  const taken: Taken[] = [];
  const newIds = new Map(
    goals.flatMap(({ goalId, becomes, newGoalId }) => (becomes === "continued" ? [[goalId, newGoalId]] : [])),
  );
  // A goal before what stands under it.
  const chosen = goals
    .map((one) => ({ ...one, goal: there.find(({ goalId }) => goalId === one.goalId) ?? notFound() }))
    .sort((a, b) => Number(a.goal.parentId !== null) - Number(b.goal.parentId !== null));
  for (const { goal, becomes, newGoalId } of chosen) {
    const { goalId, revision } = goal;
    if (goal.ended !== null) changed(`Goal ${goal.number}`);
    const decision = { act: becomes, on: scope.today, reason: "", expectedRevision: revision };
    if ((await decideGoal(scope, { studentId, goalId }, decision)) === "conflict")
      changed(`Goal ${goal.number}`);
    if (becomes === "continued") await goOn(scope, { studentId, goal, newGoalId, newIds, startOn });
    taken.push({
      studentId,
      step: {
        ...{ kind: "goal", goalId, act: becomes, revision: revision + 1 },
        newGoalId: becomes === "continued" ? newGoalId : null,
      },
    });
  }
  return taken;
}

async function goOn(
  scope: PersonScope,
  {
    studentId,
    goal,
    newGoalId,
    newIds,
    startOn,
  }: {
    studentId: string;
    goal: SummarisedGoal;
    newGoalId: string;
    newIds: ReadonlyMap<string, string>;
    startOn: string;
  },
): Promise<void> {
  const dueOn = goal.setup.dueOn ? yearsLater(goal.setup.dueOn, 1) : null;
  const content = {
    ...contentAnew(goal),
    startOn,
    dueOn: dueOn !== null && dueOn > startOn ? dueOn : null,
    annualReviewOn: goal.annualReviewOn === null ? null : yearsLater(goal.annualReviewOn, 1),
    parentId: goal.parentId === null ? null : (newIds.get(goal.parentId) ?? goal.parentId),
  };
  const ids = { studentId, goalId: newGoalId };
  await addGoal(scope, ids, content, { today: scope.today, continues: goal.goalId });
}

async function takeParts(
  scope: PersonScope,
  { studentId, parts }: RollOver["students"][number],
): Promise<Taken[]> {
  const members = new Map((await listCircleMembers(scope, studentId)).map((one) => [one.personId, one]));
  const taken: Taken[] = [];
  for (const { personId, toOn } of parts) {
    const member = members.get(personId) ?? notFound();
    const outcome = await changePart(scope, studentId, personId, { circleRole: member.circleRole, toOn });
    if (outcome === "needs a lead")
      throw new Invalid({ form: `Somebody has to lead the circle on: ${member.name} is its only lead.` });
    taken.push({ studentId, step: { kind: "part", personId, before: member.toOn, after: toOn } });
  }
  return taken;
}

/** Changes one column of a student, from what is there. */
async function setOfStudent(
  scope: PersonScope,
  studentId: string,
  { column, from, to }: { column: "left_on" | "grade"; from: string | null; to: string | null },
): Promise<boolean> {
  requirePermission(scope, "student.edit");
  const key = { school_id: scope.schoolId, student_id: studentId };
  const { trx } = scope;
  const count = await trx("students")
    .where(key)
    .whereRaw("?? is not distinct from ?::text::" + (column === "grade" ? "text" : "date"), [column, from])
    .update({ [column]: to });
  if (count > 0)
    await recordEvent(scope, { thing: "student", act: "changed", thingId: studentId, studentId });
  return count > 0;
}

async function takeStudent(
  scope: PersonScope,
  { studentId, leavesOn, grade }: RollOver["students"][number],
): Promise<Taken[]> {
  const taken: Taken[] = [];
  const row = await scope
    .trx("students")
    .where({ school_id: scope.schoolId, student_id: studentId })
    .first("left_on", "grade");
  if (!row || row.left_on !== null) changed("A student");
  if (leavesOn !== null) {
    await setOfStudent(scope, studentId, { column: "left_on", from: null, to: leavesOn });
    taken.push({ studentId, step: { kind: "leaving", leftOn: leavesOn } });
  } else if (grade !== null && row && grade !== row.grade) {
    const before = row.grade ?? "";
    await setOfStudent(scope, studentId, { column: "grade", from: row.grade, to: grade });
    taken.push({ studentId, step: { kind: "grade", before, after: grade } });
  }
  return taken;
}

/**
 * Does at once what was chosen for the next school year, and writes down each step, so that it can be undone within a day. The form made its id: sent
 * twice, it is one. Of each student it is asked whether the person leads the circle.
 *
 * @throws Invalid where something was changed meanwhile: then nothing is done
 */
export async function rollOver(scope: PersonScope, plan: RollOver): Promise<void> {
  requirePermission(scope, "year.roll");
  const { trx, schoolId, actor } = scope;
  const key = { school_id: schoolId, roll_over_id: plan.rollOverId };
  const added = await trx("roll_overs")
    .insert({ ...key, person_id: actor.personId })
    .onConflict(["school_id", "roll_over_id"])
    .ignore()
    .returning("roll_over_id");
  if (added.length === 0) return;
  const scopes = await alsoAuthorizeEach(
    scope,
    "goal.edit",
    plan.students.map(({ studentId }) => studentId),
  );
  const taken: Taken[] = [];
  if (plan.year) taken.push(await takeYear(scope, plan.year));
  taken.push(...(await takeGroups(scope, plan.endedGroups)));
  for (const student of plan.students) {
    const theirs = scopes.get(student.studentId) ?? notFound();
    taken.push(...(await takeGoals(theirs, student, plan.newGoalsFrom)));
    taken.push(...(await takeParts(theirs, student)));
    taken.push(...(await takeStudent(theirs, student)));
  }
  if (taken.length === 0) throw new Invalid({ form: "Nothing is chosen: everything goes on as it is." });
  await trx("roll_over_steps").insert(
    taken.map(({ studentId, step: { kind, ...step } }, place) => ({
      ...{ ...key, place, student_id: studentId, kind, step: JSON.stringify(step) },
    })),
  );
  await recordEvent(scope, { thing: "roll-over", act: "done", thingId: plan.rollOverId, studentId: null });
}

/** What a person did at once for the next year. */
export interface DoneRollOver {
  rollOverId: string;
  /** The school's own moment. */
  at: string;
  steps: Record<Step["kind"], number>;
  /** Can it be undone now? */
  isOpen: boolean;
  undone: { at: string; remained: number } | null;
}

/** The last time the person did it; null where they never did, or where it is longer than a month ago. */
export async function findRollOver({
  trx,
  schoolId,
  actor,
  timeZone,
  now,
}: PersonScope): Promise<DoneRollOver | null> {
  const { rows } = await trx.raw<{
    rows: {
      roll_over_id: string;
      made_at: Date;
      undone_at: Date | null;
      remained: number | null;
      steps: Record<Step["kind"], number> | null;
    }[];
  }>(
    `select r.roll_over_id, r.made_at, r.undone_at, r.remained,
       (select jsonb_object_agg(k.kind, k.n) from (select s.kind, count(*)::int as n from roll_over_steps s
         where s.school_id = r.school_id and s.roll_over_id = r.roll_over_id group by s.kind) k) as steps
     from roll_overs r where r.school_id = ? and r.person_id = ? and r.made_at > ?::timestamptz - interval '30 days'
     order by r.made_at desc limit 1`,
    [schoolId, actor.personId, now],
  );
  const row = rows[0];
  if (!row) return null;
  const moment = (at: Date) => localMoment(timeZone, at.getTime());
  return {
    ...{
      rollOverId: row.roll_over_id,
      at: moment(row.made_at),
      steps: row.steps ?? ({} as DoneRollOver["steps"]),
    },
    isOpen: row.undone_at === null && now.getTime() - row.made_at.getTime() < hoursToUndo * 3_600_000,
    undone: row.undone_at === null ? null : { at: moment(row.undone_at), remained: row.remained ?? 0 },
  };
}

async function undoGoal(
  scope: PersonScope,
  studentId: string,
  step: Step & { kind: "goal" },
): Promise<boolean> {
  const { goalId, act, revision, newGoalId } = step;
  const goals = await listGoals(scope, studentId);
  if (goals.find((one) => one.goalId === goalId)?.revision !== revision) return false;
  const next = goals.find((one) => one.goalId === newGoalId);
  if (next && (await removeUnusedGoal(scope, { studentId, goalId: next.goalId })) === "in use") return false;
  const back = act === "met" ? "not met" : "taken up again";
  const decision = { act: back, on: scope.today, reason: "", expectedRevision: revision } as const;
  return (await decideGoal(scope, { studentId, goalId }, decision)) === "saved";
}

async function undoPart(
  scope: PersonScope,
  studentId: string,
  step: Step & { kind: "part" },
): Promise<boolean> {
  const members = await listCircleMembers(scope, studentId);
  const member = members.find(({ personId }) => personId === step.personId);
  if (member?.toOn !== step.after) return false;
  const part = { circleRole: member.circleRole, toOn: step.before };
  return (await changePart(scope, studentId, step.personId, part)) === "saved";
}

async function undoYear(scope: PersonScope, { yearId, tag }: Step & { kind: "year" }): Promise<boolean> {
  const { trx, schoolId } = scope;
  const found = await findYear(scope, yearId);
  if (found?.tag !== tag || found.year.fromOn <= scope.today) return false;
  const { year } = found;
  for (const table of ["closures", "reporting_periods"] as const)
    await trx(table)
      .where({ school_id: schoolId })
      .whereBetween("from_on", [year.fromOn, year.toOn])
      .delete();
  await trx("school_years").where({ school_id: schoolId, year_id: yearId }).delete();
  await recordEvent(scope, { thing: "school year", act: "removed", thingId: yearId, studentId: null });
  return true;
}

async function undoGroup(
  scope: PersonScope,
  { groupId, retiredOn }: Step & { kind: "group" },
): Promise<boolean> {
  const count = await scope
    .trx("groups")
    .where({ school_id: scope.schoolId, group_id: groupId, retired_on: retiredOn })
    .update({ retired_on: null });
  if (count > 0)
    await recordEvent(scope, { thing: "group", act: "meets again", thingId: groupId, studentId: null });
  return count > 0;
}

function undoStep(scope: PersonScope, studentId: string | null, step: Step): Promise<boolean> {
  switch (step.kind) {
    case "year":
      return undoYear(scope, step);
    case "group":
      return undoGroup(scope, step);
    case "leaving":
      return setOfStudent(scope, studentId ?? "", { column: "left_on", from: step.leftOn, to: null });
    case "grade":
      return setOfStudent(scope, studentId ?? "", { column: "grade", from: step.after, to: step.before });
    case "goal":
      return undoGoal(scope, studentId ?? "", step);
    case "part":
      return undoPart(scope, studentId ?? "", step);
  }
}

/**
 * Undoes what a person did at once, the last step first. What somebody changed since stays as it is.
 *
 * @returns how many steps remain; null where it cannot be undone any more
 */
export async function undoRollOver(scope: PersonScope, rollOverId: string): Promise<number | null> {
  requirePermission(scope, "year.roll");
  const { trx, schoolId } = scope;
  const key = { school_id: schoolId, roll_over_id: rollOverId };
  await trx.raw("select 1 from roll_overs where school_id = ? and roll_over_id = ? for update", [
    schoolId,
    rollOverId,
  ]);
  const last = await findRollOver(scope);
  if (last?.rollOverId !== rollOverId || !last.isOpen) return null;
  const rows = await trx("roll_over_steps")
    .where(key)
    .orderBy("place", "desc")
    .select("student_id", "kind", "step");
  // Of a student whose circle the person leads no longer, everything stays.
  const roles = await listCircleRoles(scope, [
    ...new Set(rows.flatMap(({ student_id }) => student_id ?? [])),
  ]);
  const led = roles.flatMap(({ studentId, circleRole }) =>
    may(scope.actor, "goal.edit", { circleRole }) ? studentId : [],
  );
  const scopes = await alsoAuthorizeEach(scope, "goal.edit", led);
  let remained = 0;
  for (const { student_id, kind, step } of rows) {
    const theirs = student_id === null ? scope : scopes.get(student_id);
    const isUndone =
      theirs !== undefined && (await undoStep(theirs, student_id, { ...(step as object), kind } as Step));
    if (!isUndone) remained += 1;
  }
  await trx("roll_overs").where(key).update({ undone_at: scope.now, remained });
  await recordEvent(scope, { thing: "roll-over", act: "undone", thingId: rollOverId, studentId: null });
  return remained;
}
