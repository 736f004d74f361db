import { useMemo, useState } from "react";
import { Form, Link } from "react-router";
import { CourseOfGoal, PhasesOfGoal } from "#app/goal-set-up/course.tsx";
import { CriterionFields } from "#app/goal-set-up/criterion-fields.tsx";
import { ChoiceField, Section, SetUpContext, TextField } from "#app/goal-set-up/fields.tsx";
import { MeasureFields } from "#app/goal-set-up/measure-fields.tsx";
import { Preview } from "#app/goal-set-up/preview.tsx";
import { previewOf } from "#app/goal-set-up/preview-of.ts";
import { readSetUp } from "#app/goal-set-up/read-set-up.ts";
import { useSetUpForm } from "#app/goal-set-up/use-set-up-form.ts";
import { openFields, ScheduleFields, StrategyField } from "#app/goal-set-up/work-fields.tsx";
import { BlankFields, TitleFields, WordingFields } from "#app/goal-set-up/wording-fields.tsx";
import { useForm } from "#app/kit/use-form.ts";
import { Continued } from "#app/kit/continued.tsx";
import { Field, FormProblem } from "#app/ui/field.tsx";
import type { Route } from "./+types/set-up";
import { useAwake } from "#app/ui/use-awake.ts";
import { PageTitle } from "#app/ui/page-title.tsx";

/** A goal on one page: its wording, what is read from it, and everything else a person sets up, with its preview beside it. */
export function SetUpForm({ loaderData, actionData, params }: Route.ComponentProps) {
  const { student, goal, template, circle, parents, areas, ladders, today } = loaderData;
  const part = actionData && "part" in actionData ? actionData.part : undefined;
  const own = part === undefined;
  const { busy, problems } = useForm(actionData);
  const ready = useAwake();
  // Reading the page again, as live updates do, does not begin the form anew; what it changes stays what it began from.
  const [{ start, revision }] = useState({ start: loaderData.start, revision: goal?.revision });
  const { form, values, ...read } = useSetUpForm({
    start,
    fills: goal === null,
    typed: own ? actionData?.typed : undefined,
    problems: own ? problems : {},
    ladders,
    iepTo: student.iepTo,
  });
  const result = useMemo(() => readSetUp(values), [values]);
  const preview = useMemo(() => previewOf(values), [values]);
  const kindChanges = goal !== null && values["kind"] !== start.values["kind"];
  const back = `/students/${params.studentId}${goal ? `/goals/${goal.goalId}` : ""}`;

  return (
    <div className="min-w-0 lg:grid lg:grid-cols-[minmax(0,1fr)_25rem]" data-ready={ready || undefined}>
      <main id="page" className="page-body min-w-0 px-8 py-5 max-sm:px-4">
        <header className="mb-2 flex flex-wrap items-baseline gap-x-4">
          <PageTitle title={goal ? `Set-up of ${goal.number}` : "New goal"} of={student.initials} />
          <p className="text-fine text-soft" dir="auto">
            {student.name}
            {template ? `, from the template “${template.title}”` : ""}
          </p>
          {goal ? null : (
            <Link to={`/school/templates?for=${params.studentId}`} className="link text-fine">
              {template ? "another template" : "from a template"}
            </Link>
          )}
          <Link to={back} className="btn btn-plain btn-sm ml-auto">
            Cancel
          </Link>
        </header>
        {read.continued ? <Continued startOver={read.startOver} /> : null}
        <FormProblem>
          {own
            ? (problems["form"] ??
              (Object.keys(problems).length > 0
                ? "Not saved yet: please look at the marked fields."
                : undefined))
            : undefined}
        </FormProblem>
        <SetUpContext value={form}>
          <Form method="post" noValidate className="grid">
            <input type="hidden" name="goalId" value={goal?.goalId ?? loaderData.newGoalId} />
            {goal ? <input type="hidden" name="revision" value={revision} /> : null}
            <Section title="The goal as the IEP has it">
              <WordingFields
                {...read}
                hint="Paste it exactly. The measure, criterion, and date are read from it for you to confirm."
              />
              <BlankFields />
              <TitleFields areas={areas}>
                <TextField name="number" label="Number" maxLength={12} />
              </TitleFields>
              {parents.length > 0 ? (
                <ChoiceField
                  name="parentId"
                  label="Objective of"
                  className="max-w-md"
                  options={[
                    ["", "no goal"],
                    ...parents.map(({ goalId, number, title }): [string, string] => [
                      goalId,
                      `${number} ${title}`,
                    ]),
                  ]}
                  hint="A short-term objective belongs to a goal and has its own criterion and date."
                />
              ) : null}
            </Section>
            <Section title="How it is measured">
              <MeasureFields ladders={ladders} />
              {goal && goal.entries > 0 ? (
                <fieldset className="rounded-lg border border-base-300 px-4 py-2">
                  <legend className="px-1 text-fine font-bold">If the measure changes</legend>
                  {kindChanges ? (
                    <p className="text-[0.9375rem]">
                      Its {goal.entries} entries keep what they meant and stay in the report; the figures
                      begin anew.
                    </p>
                  ) : (
                    <div className="grid">
                      {(
                        [
                          [
                            "yes",
                            "earlier entries still compare: the line continues (a corrected name, another planned number)",
                          ],
                          [
                            "no",
                            "earlier entries do not compare: they are not changed, and the figures start over",
                          ],
                        ] as const
                      ).map(([value, label]) => (
                        <label key={value} className="flex min-h-8 items-center gap-2 text-[0.9375rem]">
                          <input
                            type="radio"
                            name="compares"
                            value={value}
                            className="size-4.5 accent-primary"
                            defaultChecked={value === "yes"}
                          />
                          {label}
                        </label>
                      ))}
                    </div>
                  )}
                </fieldset>
              ) : null}
            </Section>
            <Section title="When it is reached">
              <CriterionFields measure={preview?.measure ?? null} />
            </Section>
            <Section title="Baseline and dates">
              <div className="grid grid-cols-3 gap-3 max-sm:grid-cols-1">
                <TextField name="startOn" label="Start" type="date" />
                <TextField name="dueOn" label="Due" type="date" />
                <TextField name="annualReviewOn" label="Annual review" type="date" />
              </div>
              <div className="grid grid-cols-3 gap-3 max-sm:grid-cols-1">
                <ChoiceField
                  name="baseline"
                  label="Baseline"
                  options={[
                    ["", "from the baseline phase"],
                    ["entered", "known: entered here"],
                    ["entries", "from the first entries"],
                  ]}
                />
                {values["baseline"] === "entered" ? (
                  <>
                    <TextField name="baselineValue" label="Value" numeric />
                    <TextField name="baselineOn" label="Observed on" type="date" />
                  </>
                ) : null}
                {values["baseline"] === "entries" ? (
                  <TextField name="baselineEntries" label="How many entries" numeric />
                ) : null}
              </div>
            </Section>
            <Section title="The work">
              <ScheduleFields />
              <ChoiceField
                name="measuredBy"
                label="Who usually measures it"
                className="max-w-md"
                options={[
                  ["", "Not set"],
                  ...circle.map(({ personId, name, position }): [string, string] => [
                    personId,
                    position ? `${name}, ${position}` : name,
                  ]),
                ]}
              />
              <StrategyField />
              {goal ? (
                <div className="grid grid-cols-[10rem_1fr] gap-3 max-sm:grid-cols-1">
                  <Field
                    label="Change applies from"
                    name="fromOn"
                    type="date"
                    defaultValue={own ? (actionData?.typed?.["fromOn"] ?? today) : today}
                    problem={own ? problems["fromOn"] : undefined}
                  />
                  <Field
                    label="Why it changes"
                    name="reason"
                    maxLength={500}
                    defaultValue={own ? actionData?.typed?.["reason"] : undefined}
                    hint="Saved with the history, such as team meeting or amended IEP."
                  />
                </div>
              ) : null}
            </Section>
            <div className="save-bar">
              <button className="btn btn-primary h-11 px-6" name="intent" value="save" disabled={busy}>
                {busy ? "Saving …" : goal ? "Save the changes" : "Save the goal"}
              </button>
              <p className="text-fine text-soft" role="status">
                {result.ok ? "" : `Still open: ${openFields(result.problems)}`}
              </p>
            </div>
          </Form>
        </SetUpContext>
        {goal ? (
          <>
            <PhasesOfGoal
              phases={goal.phases}
              newPhaseId={loaderData.newPhaseId}
              today={today}
              problems={part === "phase" ? problems : {}}
              typed={part === "phase" ? actionData?.typed : undefined}
            />
            <CourseOfGoal
              goal={goal}
              studentId={params.studentId}
              today={today}
              problems={part === "course" ? problems : {}}
            />
          </>
        ) : null}
      </main>
      <aside
        aria-label="Preview"
        className="border-rule px-5 pt-5 pb-8 max-lg:border-t lg:sticky lg:top-0 lg:h-dvh lg:overflow-y-auto lg:border-l"
      >
        <h2 className="mb-3 text-fine font-bold text-soft">Preview</h2>
        {preview ? (
          <Preview
            setUp={preview}
            recorded={goal && !kindChanges ? { phases: goal.phases, figures: goal.figures } : undefined}
          />
        ) : (
          <p className="font-serif leading-relaxed text-soft">
            The recording panel and the chart with its aim line appear here as soon as the goal says how it is
            measured.
          </p>
        )}
      </aside>
    </div>
  );
}
