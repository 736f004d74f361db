import { useForm } from "#app/kit/use-form.ts";
import { defineAction, type Submitted } from "#app/kit/define-action.server.ts";
import { useState } from "react";
import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { Link, redirect } from "react-router";
import { alsoAuthorize, authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import { namesOf } from "#core/model/student-names.ts";
import { findStudent, listGoals, listCircleRoles, listStudents } from "#server/db/students.ts";
import { dateBlank, fillBlanks, studentBlank } from "#core/goal-wording/blanks.ts";
import { pronounsIn, withBlanks } from "#core/goal-wording/with-blanks.ts";
import { dateOfDay, dayNumber, isDate } from "#core/dates/day-number.ts";
import { aYearLater } from "#core/dates/a-year-later.ts";
import { fullDate } from "#core/words/dates.ts";
import { listed } from "#core/words/lists.ts";
import { plural } from "#core/words/numbers.ts";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { EmptyState } from "#app/ui/empty-state.tsx";
import { Field, FormProblem, Select, TextArea } from "#app/ui/field.tsx";
import { date, id, optionalDate } from "#app/ui/form-data.ts";
import { copyGoals } from "./copy-goals.server.ts";
import type { Route } from "./+types/copy";
import { useAwake } from "#app/ui/use-awake.ts";
import { PageTitle } from "#app/ui/page-title.tsx";

export function loader({ request, context, params }: Route.LoaderArgs) {
  const { studentId } = params;
  return authorize(request, context, "goal.edit", studentId, async (scope) => {
    const student = await findStudent(scope, studentId);
    const today = scope.today;
    const only = new URL(request.url).searchParams.get("goal");
    const names = namesOf(student);
    const others = (await listStudents(scope)).filter((one) => one.studentId !== studentId);
    const roles = await listCircleRoles(
      scope,
      others.map((one) => one.studentId),
    );
    const led = new Set(
      roles.flatMap(({ studentId: other, circleRole }) =>
        may(scope.actor, "goal.edit", { circleRole }) ? other : [],
      ),
    );
    const nextYear = {
      studentId,
      name: `${student.calledName}’s next year`,
      calledName: student.calledName,
      startOn: student.iepTo && student.iepTo >= today ? dateOfDay(dayNumber(student.iepTo) + 1) : today,
      annualReviewOn: student.iepTo ? aYearLater(student.iepTo) : "",
    };
    return {
      student: { name: student.name, initials: student.initials },
      today,
      targets: [
        nextYear,
        ...others
          .filter((other) => led.has(other.studentId))
          .map((other) => ({
            studentId: other.studentId,
            name: other.name,
            calledName: other.calledName,
            startOn: today,
            annualReviewOn: other.iepTo ?? "",
          })),
      ],
      goals: (await listGoals(scope, studentId)).map(({ goalId, number, title, wording, ...goal }) => ({
        goalId,
        newId: newId(),
        number,
        title,
        under: goal.parentId !== null,
        ended: goal.ended?.how ?? null,
        picked: only === null ? goal.ended === null : only === goalId,
        wording: withBlanks(wording, names),
        pronouns: pronounsIn(wording),
        dueOn: goal.setup.dueOn ?? "",
        dueNextYear: goal.setup.dueOn ? aYearLater(goal.setup.dueOn) : "",
      })),
    };
  });
}

const copyForm = z.object({
  target: id,
  startOn: date,
  annualReviewOn: optionalDate,
  close: z._default(z.enum(["yes", ""]), ""),
});

export const action = defineAction({
  permission: "goal.edit",
  schema: copyForm,
  async run(
    scope,
    { target, close, ...dates },
    { params: { studentId }, typed }: Submitted<{ studentId: string }>,
  ) {
    const there = target === studentId ? scope : await alsoAuthorize(scope, "goal.edit", target);
    const first = await copyGoals(scope, there, {
      ...{ ...dates, studentId, target, typed },
      ...{ close: close === "yes", today: scope.today },
    });
    return redirect(`/students/${target}/goals/${first}`);
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

/** A student's goals taken along, without any entry: into the student's next year, or to another student. */
export default function Copy({ loaderData, actionData, params }: Route.ComponentProps) {
  const { student, targets, goals, today } = loaderData;
  const { busy, problems } = useForm(actionData);
  // What a person changed; everything else follows the choice of whom it is for.
  const [typed, setTyped] = useState<Record<string, string>>(() =>
    actionData?.typed
      ? { ...Object.fromEntries(goals.map(({ goalId }) => [`pick.${goalId}`, "no"])), ...actionData.typed }
      : {},
  );
  const ready = useAwake();
  const set = (name: string, value: string) => setTyped((before) => ({ ...before, [name]: value }));
  const target = targets.find(({ studentId }) => studentId === typed["target"]) ?? targets[0] ?? undefined;
  if (!target) return null;
  const nextYear = target.studentId === params.studentId;
  const startOn = typed["startOn"] ?? target.startOn;
  const picked = (goal: (typeof goals)[number]) =>
    typed[`pick.${goal.goalId}`] === undefined ? goal.picked : typed[`pick.${goal.goalId}`] === "yes";
  const dueOf = (goal: (typeof goals)[number]) =>
    typed[`due.${goal.goalId}`] ?? (nextYear ? goal.dueNextYear : goal.dueOn);
  const wordingOf = (goal: (typeof goals)[number]) => {
    const due = dueOf(goal);
    return (
      typed[`wording.${goal.goalId}`] ??
      fillBlanks(goal.wording, {
        [studentBlank]: target.calledName,
        [dateBlank]: isDate(due) ? fullDate(due) : undefined,
      })
    );
  };
  const count = goals.filter(picked).length;
  return (
    <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4" data-ready={ready || undefined}>
      <header className="mb-3 flex flex-wrap items-baseline gap-x-4">
        <PageTitle title="Copy goals" of={student.initials} />
        <p className="text-fine text-soft">
          of {student.name}: wording, measure, ladder, lists and criterion, without any entry
        </p>
        <Link to={`/students/${params.studentId}`} className="btn btn-plain btn-sm ml-auto">
          Cancel
        </Link>
      </header>
      <FormProblem>
        {problems["form"] ??
          (Object.keys(problems).length > 0
            ? "Nothing copied yet: please look at the marked fields."
            : undefined)}
      </FormProblem>
      {goals.length === 0 ? (
        <EmptyState title="No goals to copy">
          <p>Goals that are set up for this student can be taken along from here.</p>
        </EmptyState>
      ) : (
        <KeptForm draft="copy" method="post" noValidate>
          <div className="mb-4 grid max-w-3xl grid-cols-[minmax(0,1fr)_11rem_11rem] gap-3 max-sm:grid-cols-1">
            <Select
              label="For"
              name="target"
              value={target.studentId}
              onChange={({ target: chosen }) => set("target", chosen.value)}
              options={targets.map(({ studentId, name }): [string, string] => [studentId, name])}
              problem={problems["target"]}
            />
            <Field
              label="Start"
              name="startOn"
              type="date"
              value={startOn}
              onChange={({ target: field }) => set("startOn", field.value)}
              problem={problems["startOn"]}
            />
            <Field
              label="Annual review"
              name="annualReviewOn"
              type="date"
              value={typed["annualReviewOn"] ?? target.annualReviewOn}
              onChange={({ target: field }) => set("annualReviewOn", field.value)}
              problem={problems["annualReviewOn"]}
            />
          </div>
          <ul>
            {goals.map((goal) => {
              const { goalId } = goal;
              return (
                <li key={goalId} className="border-t border-base-300 py-3">
                  <input type="hidden" name={`id.${goalId}`} value={typed[`id.${goalId}`] ?? goal.newId} />
                  <label className={`flex min-h-8 w-fit items-center gap-3 ${goal.under ? "pl-6" : ""}`}>
                    <input
                      type="checkbox"
                      className="size-4.5 accent-primary"
                      name={`pick.${goalId}`}
                      value="yes"
                      checked={picked(goal)}
                      onChange={({ target: box }) => set(`pick.${goalId}`, box.checked ? "yes" : "no")}
                    />
                    <span className="font-serif text-[1.2rem] font-semibold">{goal.number}</span>
                    <span dir="auto">
                      {goal.title}
                      {goal.ended ? <span className="text-fine text-soft"> ({goal.ended})</span> : null}
                    </span>
                  </label>
                  <div className={picked(goal) ? "" : "without-scripts"}>
                    <div className="mt-2 ml-8 grid grid-cols-[minmax(0,1fr)_11rem] gap-3 max-sm:ml-0 max-sm:grid-cols-1">
                      <TextArea
                        label={`Wording of ${goal.number} after copying`}
                        name={`wording.${goalId}`}
                        rows={3}
                        dir="auto"
                        maxLength={2000}
                        value={wordingOf(goal)}
                        onChange={({ target: field }) => set(`wording.${goalId}`, field.value)}
                        problem={problems[`wording.${goalId}`]}
                        {...(!nextYear && goal.pronouns.length > 0
                          ? {
                              hint: `It says ${listed(goal.pronouns.map((word) => `“${word}”`))}: does that suit ${target.calledName}?`,
                            }
                          : {})}
                      />
                      <Field
                        label={`Due date of ${goal.number}`}
                        name={`due.${goalId}`}
                        type="date"
                        value={dueOf(goal)}
                        onChange={({ target: field }) => set(`due.${goalId}`, field.value)}
                        problem={problems[`due.${goalId}`]}
                      />
                    </div>
                  </div>
                </li>
              );
            })}
          </ul>
          <div className="save-bar">
            <button className="btn btn-primary h-11 px-6" disabled={busy || (ready && count === 0)}>
              {busy ? "Copying …" : `Copy ${count} ${plural(count, "goal")}`}
            </button>
            {nextYear ? (
              <label className="flex min-h-8 items-center gap-2 text-[0.9375rem]">
                <input
                  type="checkbox"
                  name="close"
                  value="yes"
                  className="size-4.5 accent-primary"
                  checked={typed["close"] === undefined ? startOn <= today : typed["close"] === "yes"}
                  onChange={({ target: box }) => set("close", box.checked ? "yes" : "no")}
                />
                Close this year’s goals today: they go on as the new ones
              </label>
            ) : null}
          </div>
        </KeptForm>
      )}
    </main>
  );
}
