import { listRevisions } from "#server/db/revisions.ts";
import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { data, redirect } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { Invalid, notFound } from "#server/errors.ts";
import { isId } from "#server/access/scope.ts";
import { countEverRecorded, figuresOf, listGoalEntries } from "#server/db/entry-lists.ts";
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
import type { Goal } from "#core/model/goal.ts";
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
import { type SetUp, type SetUpValues, setUpValues, templateValues } from "#app/goal-set-up/set-up-values.ts";
import { keepTyped } from "#app/recording/keep-typed.server.ts";
import { keepTypedOffline } from "#app/recording/keep-typed-offline.ts";
import { date, id, optionalText, problemsOf, readForm, text, typedValues } from "#app/ui/form-data.ts";
import { SetUpForm } from "./set-up-form.tsx";
import type { Route } from "./+types/set-up";

function setUpOf(goal: Goal): SetUp {
  const { number, title, area, wording, measure, startOn, annualReviewOn, schedule, strategy } = goal;
  const { criterion, dueOn, enteredBaseline, baselineEntries = null } = goal.setup;
  return {
    number,
    title,
    area,
    wording,
    measure,
    criterion,
    startOn,
    dueOn,
    annualReviewOn,
    enteredBaseline,
    baselineEntries,
    schedule,
    strategy,
    measuredBy: goal.measuredBy,
    parentId: goal.parentId,
  };
}

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "goal.edit", params.studentId, async (scope) => {
    const student = await findStudent(scope, params.studentId);
    const goals = await listGoals(scope, params.studentId);
    const goal = params.goalId ? await findGoal(scope, params.studentId, params.goalId) : null;
    const today = scope.today;
    const circle = await listCircle(scope, params.studentId);
    const revisions = goal ? await listRevisions<"goal", string>(scope, "goal", goal.goalId) : [];
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
      student: { name: student.name, initials: student.initials, calledName: student.calledName },
      today,
      newGoalId: newId(),
      newPhaseId: newId(),
      template: template && { templateId: template.templateId, title: template.title },
      start: { values, known: template ? proposedValues(read, ladders).values : {}, spans: read.spans },
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
        confirm: goal.setup.criterion?.confirm ?? [],
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

export async function action({ request, context, params }: Route.ActionArgs) {
  const form = await request.formData();
  const typed = typedValues(form);
  const { studentId } = params;
  const changedMeanwhile = () =>
    data(
      {
        problems: {
          form: "This goal was changed meanwhile, by someone else or in another tab. Please open it again and look.",
        },
        typed,
      },
      { status: 409 },
    );
  return keepTyped(typed, () =>
    authorize(request, context, "goal.edit", studentId, async (scope) => {
      const intent = form.get("intent");
      const goalId = params.goalId;
      if (goalId !== undefined && !isId(goalId)) notFound();
      const today = scope.today;
      if (intent === "read") {
        const proposed = proposedValues(propose(filledWording(typed)), await listLadders(scope));
        return data({ problems: {}, typed: { ...typed, ...proposed.values } });
      }
      if (goalId !== undefined && (intent === "phase" || intent === "phase-remove")) {
        if (intent === "phase-remove") {
          const read = readForm(form, z.object({ phaseId: id }));
          if (read.ok) await removePhase(scope, { studentId, goalId }, read.values.phaseId);
        } else {
          const read = readForm(form, phaseForm);
          if (!read.ok) return data({ problems: read.problems, typed, part: "phase" }, { status: 422 });
          const { reason, isBaseline, ...phase } = read.values;
          await savePhase(
            scope,
            { studentId, goalId },
            { ...phase, reason: reason ?? "", isBaseline: isBaseline === "yes" },
          );
        }
        return redirect(`/students/${studentId}/goals/${goalId}/set-up#phases`);
      }
      if (goalId !== undefined && intent === "remove") {
        const outcome = await removeUnusedGoal(scope, { studentId, goalId });
        if (outcome === "removed") return redirect(`/students/${studentId}`);
        return data(
          {
            problems: {
              remove:
                "Something has been recorded for this goal, or an objective stands under it: it can be discontinued, not removed.",
            },
            typed,
            part: "course",
          },
          { status: 409 },
        );
      }
      if (goalId !== undefined && intent === "decide") {
        const read = readForm(form, decideForm);
        if (!read.ok) return data({ problems: read.problems, typed, part: "course" }, { status: 422 });
        const { revision: expectedRevision, reason, ...decision } = read.values;
        const outcome = await decideGoal(
          scope,
          { studentId, goalId },
          { ...decision, reason: reason ?? "", expectedRevision },
        );
        return outcome === "conflict"
          ? changedMeanwhile()
          : redirect(`/students/${studentId}/goals/${goalId}`);
      }
      const read = readSetUp(typed);
      if (!read.ok) throw new Invalid(problemsOf(read.problems));
      const content = read.setUp;
      const ids = readForm(form, saveForm);
      if (!ids.ok) notFound();
      if (content.measuredBy !== null) {
        const circle = await listCircle(scope, studentId);
        if (!circle.some(({ personId }) => personId === content.measuredBy))
          throw new Invalid({ measuredBy: "This person is not in the circle." });
      }
      if (goalId === undefined) {
        await addGoal(scope, { studentId, goalId: ids.values.goalId }, content, { today });
        return redirect(`/students/${studentId}/goals/${ids.values.goalId}`);
      }
      const change = readForm(form, changeForm);
      if (!change.ok) return data({ problems: change.problems, typed }, { status: 422 });
      const before = await findGoal(scope, studentId, goalId);
      const compares = change.values.compares === "yes" && before.measure.kind === content.measure.kind;
      const outcome = await changeGoal(scope, { studentId, goalId }, content, {
        expectedRevision: ids.values.revision ?? 0,
        fromOn: change.values.fromOn === "2000-01-01" ? today : change.values.fromOn,
        reason: change.values.reason ?? "",
        compares,
        renamed: compares ? renamedParts(before.measure, content.measure) : {},
      });
      return outcome === "conflict" ? changedMeanwhile() : redirect(`/students/${studentId}/goals/${goalId}`);
    }),
  );
}

export async function clientAction({ serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction());
}

/** Another goal, or another template, is another form. */
export default function SetUpPage(props: Route.ComponentProps) {
  const { goal, template } = props.loaderData;
  return <SetUpForm key={goal?.goalId ?? template?.templateId ?? "new"} {...props} />;
}
