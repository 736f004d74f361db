import type { PersonScope } from "#server/access/scope.ts";
import { addGoal, contentAnew, decideGoal, type GoalContent, listCircle } from "#server/db/goals.ts";
import type { Goal } from "#core/model/goal.ts";
import { namesOf } from "#core/model/student-names.ts";
import { findStudent, listGoals } from "#server/db/students.ts";
import { Invalid } from "#server/errors.ts";
import { blanksIn } from "#core/goal-wording/blanks.ts";
import { mapTexts } from "#core/goal-wording/map-texts.ts";
import { namesIn, withoutNames } from "#core/goal-wording/with-blanks.ts";
import { nextGoalNumber } from "#core/report/next-goal-number.ts";
import { id, optionalDate, type Problems } from "#app/ui/form-data.ts";

interface Picked {
  goal: Goal;
  newGoalId: string;
  wording: string;
  dueOn: string | null;
}

/** The goals that were picked, in their order, each with its wording and date as they were left on the page. */
function readPicked(
  typed: Readonly<Record<string, string>>,
  goals: readonly Goal[],
  { startOn, notNamed }: { startOn: string; notNamed: readonly string[] },
): { picked: Picked[]; problems: Problems } {
  const problems: Problems = {};
  const picked = goals.flatMap((goal) => {
    const { goalId } = goal;
    if (typed[`pick.${goalId}`] !== "yes") return [];
    const newGoalId = id.safeParse(typed[`id.${goalId}`]);
    const wording = (typed[`wording.${goalId}`] ?? "").trim();
    const due = optionalDate.safeParse(typed[`due.${goalId}`] ?? "");
    const [blank] = blanksIn(wording);
    const [named] = namesIn(wording, notNamed);
    if (!newGoalId.success || !due.success) {
      problems[`due.${goalId}`] = "There is no such date.";
      return [];
    }
    if (due.data !== null && due.data <= startOn)
      problems[`due.${goalId}`] = "The due date lies before the start.";
    if (wording === "" || wording.length > 2000)
      problems[`wording.${goalId}`] = "The wording has 1 to 2000 characters.";
    else if (blank) problems[`wording.${goalId}`] = `What replaces {${blank}}?`;
    else if (named) problems[`wording.${goalId}`] = `It still names ${named}.`;
    return [{ goal, newGoalId: newGoalId.data, wording, dueOn: due.data }];
  });
  if (picked.length === 0 && Object.keys(problems).length === 0) problems["form"] = "Pick at least one goal.";
  return { picked, problems };
}

/** Every goal before what stands under it, and otherwise as they were. */
function parentsFirst(picked: readonly Picked[]): Picked[] {
  const ordered = new Set<Picked>();
  const put = (one: Picked) => {
    const parent = picked.find(({ goal }) => goal.goalId === one.goal.parentId);
    if (parent) put(parent);
    ordered.add(one);
  };
  picked.forEach(put);
  return [...ordered];
}

/** A number of the IEP page that is free there: the goal's own, or the next. */
function freeNumber(wanted: string, taken: Set<string>): string {
  const number = taken.has(wanted) ? nextGoalNumber(taken) : wanted;
  taken.add(number);
  return number;
}

/**
 * Makes the picked goals anew, without any entry: for the same student they go on under their numbers, for another they
 * lose the first one's name.
 *
 * @param there the same scope, turned to the student whom the goals are for
 * @returns the first of the new goals
 */
export async function copyGoals(
  scope: PersonScope,
  there: PersonScope,
  {
    studentId,
    target,
    startOn,
    annualReviewOn,
    close,
    typed,
    today,
  }: {
    studentId: string;
    target: string;
    startOn: string;
    annualReviewOn: string | null;
    close: boolean;
    typed: Readonly<Record<string, string>>;
    today: string;
  },
): Promise<string> {
  const sameStudent = target === studentId;
  const student = await findStudent(scope, studentId);
  const other = await findStudent(there, target);
  const goals = await listGoals(scope, studentId);
  const { picked, problems } = readPicked(typed, goals, {
    startOn,
    // Adds the student's initials where two students share a name.
    notNamed: sameStudent ? [] : namesOf(student).filter((name) => !namesOf(other).includes(name)),
  });
  if (Object.keys(problems).length > 0) throw new Invalid(problems);
  const circle = (await listCircle(there, target)).map(({ personId }) => personId);
  const taken = new Set(
    (await listGoals(there, target)).flatMap((goal) =>
      goal.ended === null && !(sameStudent && picked.some((one) => one.goal.goalId === goal.goalId))
        ? goal.number
        : [],
    ),
  );
  const renamed = (text: string) =>
    sameStudent ? text : withoutNames(text, namesOf(student), other.calledName);
  for (const one of parentsFirst(picked)) {
    const { goal } = one;
    const content: GoalContent = {
      ...contentAnew(goal),
      number: freeNumber(goal.number, taken),
      title: renamed(goal.title),
      wording: one.wording,
      measure: mapTexts(goal.measure, renamed),
      criterion: mapTexts(goal.setup.criterion, renamed),
      startOn,
      dueOn: one.dueOn,
      annualReviewOn,
      strategy: renamed(goal.strategy),
      measuredBy: goal.measuredBy !== null && circle.includes(goal.measuredBy) ? goal.measuredBy : null,
      parentId: picked.find(({ goal: { goalId } }) => goalId === goal.parentId)?.newGoalId ?? null,
    };
    await addGoal(there, { studentId: target, goalId: one.newGoalId }, content, {
      today,
      continues: sameStudent ? goal.goalId : null,
    });
    if (sameStudent && close && goal.ended === null) await closeContinued(scope, goal, today);
  }
  return picked[0]?.newGoalId ?? "";
}

async function closeContinued(scope: PersonScope, goal: Goal, today: string): Promise<void> {
  const { studentId, goalId, revision } = goal;
  const decision = { act: "continued", on: today, reason: "", expectedRevision: revision } as const;
  const outcome = await decideGoal(scope, { studentId, goalId }, decision);
  if (outcome === "conflict")
    throw new Invalid({
      form: `Goal ${goal.number} was changed just now by someone else. Nothing has been copied. Save again.`,
    });
}
