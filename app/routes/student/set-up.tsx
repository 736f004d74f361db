import type { PersonScope } from "#server/access/scope.ts";
import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { listRevisions } from "#server/db/revisions.ts";
import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { data, redirect } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { Invalid, notFound } from "#server/errors.ts";
import { savingSetUp } from "#app/goal-set-up/use-set-up-form.ts";
import { isId } from "#server/access/scope.ts";
import { countEverRecorded, listGoalEntries } from "#server/db/entry-lists.ts";
import { figuresOf } from "#core/progress/figures-of.ts";
import {
  addGoal,
  changeGoal,
  decideGoal,
  listCircle,
  removePhase,
  removeUnusedGoal,
  savePhase,
} from "#server/db/goals.ts";
import { listItems, listLadders } from "#server/db/lists.ts";
import { findGoal, findStudent, listGoals } from "#server/db/students.ts";
import { findTemplate } from "#server/db/templates.ts";
import { studentBlank } from "#core/goal-wording/blanks.ts";
import { propose } from "#core/goal-wording/propose.ts";
import { renamedParts } from "#core/measures/part-history.ts";
import { nextGoalNumber } from "#core/report/next-goal-number.ts";
import { goalHistory } from "#core/report/goal-history.ts";
import { shortDate } from "#core/words/dates.ts";
import { proposedValues } from "#app/goal-set-up/proposed-values.ts";
import { filledWording, readSetUp } from "#app/goal-set-up/read-set-up.ts";
import { setUpOf, type SetUpValues, setUpValues, templateValues } from "#app/goal-set-up/set-up-values.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { date, id, optionalText, problemsOf, readForm, text } from "#app/ui/form-data.ts";
import { SetUpForm } from "./set-up-form.tsx";
import type { Route } from "./+types/set-up";

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "goal.edit", params.studentId, async (scope) => {
    const student = await findStudent(scope, params.studentId);
    const goals = await listGoals(scope, params.studentId);
    const goal = params.goalId ? await findGoal(scope, params.studentId, params.goalId) : null;
    const today = scope.today;
    const circle = await listCircle(scope, params.studentId);
    const revisions = goal ? await listRevisions(scope, "goal", goal.goalId) : [];
    const templateId = new URL(request.url).searchParams.get("template");
    const template = !goal && isId(templateId) ? await findTemplate(scope, templateId) : null;
    const ladders = await listLadders(scope);
    const values: SetUpValues = {
      [`blank.${studentBlank}`]: student.calledName,
      ...(goal
        ? setUpValues(setUpOf(goal))
        : {
            number: nextGoalNumber(goals.map(({ number }) => number)),
            startOn: today,
            annualReviewOn: student.iepTo ?? "",
            perWeek: "1",
            "purpose.probe": "yes",
            measuredBy: scope.actor.personId,
            ...(template ? templateValues(template) : {}),
          }),
    };
    const read = propose(filledWording(values));
    return {
      student: {
        ...{ name: student.name, initials: student.initials, calledName: student.calledName },
        iepTo: student.iepTo,
      },
      today,
      newGoalId: newId(),
      newPhaseId: newId(),
      template: template && { templateId: template.templateId, title: template.title },
      start: {
        values,
        known: template ? proposedValues(read, ladders, student.iepTo).values : {},
        spans: read.spans,
      },
      goal: goal && {
        goalId: goal.goalId,
        revision: goal.revision,
        number: goal.number,
        title: goal.title,
        entries: await countEverRecorded(scope, goal.goalId),
        figures: figuresOf(goal, await listGoalEntries(scope, goal.goalId)),
        metOn: goal.setup.metOn,
        ended: goal.ended,
        reached: goal.summary?.mastery?.met ?? false,
        judged: goal.setup.criterion === null,
        phases: goal.setup.phases.map((phase) => ({ ...phase, reason: phase.reason ?? "" })),
        history: goalHistory(revisions).map((line) => ({ ...line, when: shortDate(line.on) })),
      },
      circle: circle.map(({ personId, name, position }) => ({ personId, name, position })),
      parents: goals
        .filter(({ parentId, goalId }) => parentId === null && goalId !== goal?.goalId)
        .map(({ goalId, number, title }) => ({ goalId, number, title })),
      areas: await listItems(scope, "area"),
      ladders,
    };
  });
}

const revision = z.pipe(z.string().check(z.regex(/^\d{1,6}$/)), z.transform(Number));
const saveForm = z.object({ goalId: id, revision: z.optional(revision) });
const changeForm = z.object({
  fromOn: z._default(date, "2000-01-01"),
  reason: optionalText(500),
  compares: z._default(z.enum(["yes", "no"]), "yes"),
});
const phaseForm = z.object({
  phaseId: id,
  name: text(100, "Give the phase a name."),
  startsOn: date,
  reason: optionalText(500),
  isBaseline: z._default(z.enum(["yes", ""]), ""),
});
const decideForm = z.object({
  act: z.enum(["met", "not met", "discontinued", "continued", "taken up again"]),
  on: date,
  reason: optionalText(500),
  revision,
});

/** The address of a set-up: of a goal, or of one that is not there yet. */
interface SetUpParams {
  studentId: string;
  goalId?: string;
}
type Sent = Submitted<SetUpParams>;

const changedMeanwhile = ({ wrong }: Sent) =>
  wrong(
    {
      form: "This goal was changed in the meantime, by someone else or in another tab. Open it again and check it.",
    },
    409,
  );

/** The goal of the address; not found where it names none. */
function goalOf({ studentId, goalId }: SetUpParams): { studentId: string; goalId: string } {
  return goalId !== undefined && isId(goalId) ? { studentId, goalId } : notFound();
}

/** Proposes what the wording says, into fields that are empty. */
async function readWording(scope: PersonScope, { typed }: Sent) {
  const proposed = proposedValues(propose(filledWording(typed)), await listLadders(scope));
  return data({ problems: {}, typed: { ...typed, ...proposed.values } });
}

const toPhases = ({ studentId, goalId }: SetUpParams) =>
  redirect(`/students/${studentId}/goals/${goalId}/set-up#phases`);

const keepPhase = intent({
  schema: phaseForm,
  part: "phase",
  async run(scope, { reason, isBaseline, ...phase }, { params }: Sent) {
    const content = { ...phase, reason: reason ?? "", isBaseline: isBaseline === "yes" };
    await savePhase(scope, goalOf(params), content);
    return toPhases(params);
  },
});

const dropPhase = intent({
  schema: z.object({ phaseId: id }),
  async run(scope, { phaseId }, { params }: Sent) {
    await removePhase(scope, goalOf(params), phaseId);
    return toPhases(params);
  },
});

async function removeGoal(scope: PersonScope, { params, typed }: Sent) {
  const outcome = await removeUnusedGoal(scope, goalOf(params));
  if (outcome === "removed") return redirect(`/students/${params.studentId}`);
  const remove =
    "Something has been recorded for this goal, or it has an objective: it can be discontinued, not removed.";
  return data({ problems: { remove }, typed, part: "course" }, { status: 409 });
}

const decide = intent({
  schema: decideForm,
  part: "course",
  async run(scope, { revision: expectedRevision, reason, ...decision }, submitted: Sent) {
    const ids = goalOf(submitted.params);
    const outcome = await decideGoal(scope, ids, { ...decision, reason: reason ?? "", expectedRevision });
    return outcome === "conflict"
      ? changedMeanwhile(submitted)
      : redirect(`/students/${ids.studentId}/goals/${ids.goalId}`);
  },
});

/** Reads the set-up from its form, or returns its problems. */
async function readContent(scope: PersonScope, { params, typed }: Sent) {
  const read = readSetUp(typed);
  if (!read.ok) throw new Invalid(problemsOf(read.problems));
  const { measuredBy } = read.setUp;
  const circle = measuredBy === null ? [] : await listCircle(scope, params.studentId);
  if (measuredBy !== null && !circle.some(({ personId }) => personId === measuredBy))
    throw new Invalid({ measuredBy: "This person is not in the circle." });
  return read.setUp;
}

/** Keeps the set-up of a goal that is there already. */
const changeSetUp = intent({
  schema: changeForm,
  async run(scope, change, submitted: Sent) {
    const { params, form } = submitted;
    const ids = goalOf(params);
    const content = await readContent(scope, submitted);
    const read = readForm(form, saveForm);
    if (!read.ok) notFound();
    const before = await findGoal(scope, ids.studentId, ids.goalId);
    const compares = change.compares === "yes" && before.measure.kind === content.measure.kind;
    const outcome = await changeGoal(scope, ids, content, {
      expectedRevision: read.values.revision ?? 0,
      fromOn: change.fromOn === "2000-01-01" ? scope.today : change.fromOn,
      reason: change.reason ?? "",
      compares,
      renamed: compares ? renamedParts(before.measure, content.measure) : {},
    });
    return outcome === "conflict"
      ? changedMeanwhile(submitted)
      : redirect(`/students/${ids.studentId}/goals/${ids.goalId}`);
  },
});

/** Adds a goal that is not there yet. */
async function addSetUp(scope: PersonScope, submitted: Sent) {
  const { params, form } = submitted;
  const content = await readContent(scope, submitted);
  const read = readForm(form, saveForm);
  if (!read.ok) notFound();
  const ids = { studentId: params.studentId, goalId: read.values.goalId };
  await addGoal(scope, ids, content, { today: scope.today });
  return redirect(`/students/${ids.studentId}/goals/${ids.goalId}`);
}

const save = (scope: PersonScope, submitted: Sent) =>
  submitted.params.goalId === undefined ? addSetUp(scope, submitted) : changeSetUp.run(scope, submitted);

export const action = defineIntents({
  permission: "goal.edit",
  intents: {
    read: { run: readWording },
    phase: keepPhase,
    "phase-remove": dropPhase,
    remove: { run: removeGoal },
    decide,
    save: { run: save },
  },
  otherwise: "save",
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => savingSetUp(request, () => serverAction()), request);
}

/** Another student, goal or template is another form: what is typed of one student never stands in the form of another. */
export default function SetUpPage(props: Route.ComponentProps) {
  const { goal, template } = props.loaderData;
  return (
    <SetUpForm
      key={`${props.params.studentId} ${goal?.goalId ?? template?.templateId ?? "new"}`}
      {...props}
    />
  );
}
