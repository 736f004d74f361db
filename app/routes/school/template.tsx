import { Continued } from "#app/kit/continued.tsx";
import { useForm } from "#app/kit/use-form.ts";
import { defineForm, type Submitted } from "#app/kit/define-action.server.ts";
import { useMemo, useState } from "react";
import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { data, Form, Link, redirect } from "react-router";
import { alsoAuthorize, authorize } from "#server/access/authorize.ts";
import { Invalid, notFound } from "#server/errors.ts";
import { isId, requirePermission, type PersonScope } from "#server/access/scope.ts";
import { listItems, listLadders } from "#server/db/lists.ts";
import { findGoal, findStudent, listStudents } from "#server/db/students.ts";
import {
  addTemplate,
  changeTemplate,
  findTemplate,
  removeTemplate,
  type TemplateContent,
} from "#server/db/templates.ts";
import { namesOf } from "#core/model/student-names.ts";
import { propose } from "#core/goal-wording/propose.ts";
import { namesIn, withBlanks, withoutNames } from "#core/goal-wording/with-blanks.ts";
import { studentBlank } from "#core/goal-wording/blanks.ts";
import { mapTexts, textsIn } from "#core/goal-wording/map-texts.ts";
import { CriterionFields } from "#app/goal-set-up/criterion-fields.tsx";
import { Section, SetUpContext } from "#app/goal-set-up/fields.tsx";
import { MeasureFields } from "#app/goal-set-up/measure-fields.tsx";
import { Preview } from "#app/goal-set-up/preview.tsx";
import { proposedValues } from "#app/goal-set-up/proposed-values.ts";
import { readTemplate } from "#app/goal-set-up/read-set-up.ts";
import { type SetUpValues, templateValues } from "#app/goal-set-up/set-up-values.ts";
import { savingSetUp, useSetUpForm } from "#app/goal-set-up/use-set-up-form.ts";
import { openFields, ScheduleFields, StrategyField } from "#app/goal-set-up/work-fields.tsx";
import { TitleFields, WordingFields } from "#app/goal-set-up/wording-fields.tsx";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { FormProblem } from "#app/ui/field.tsx";
import { id, problemsOf, readForm } from "#app/ui/form-data.ts";
import type { Route } from "./+types/template";
import { useAwake } from "#app/ui/use-awake.ts";
import { PageTitle } from "#app/ui/page-title.tsx";

/** A student's goal as a template: everything but what is the student's own. */
async function fromGoal(scope: PersonScope, studentId: string, goalId: string): Promise<TemplateContent> {
  const there = await alsoAuthorize(scope, "student.read", studentId);
  const names = namesOf(await findStudent(there, studentId));
  const { title, area, wording, measure, setup, schedule, strategy } = await findGoal(
    there,
    studentId,
    goalId,
  );
  const setUp = { measure, criterion: setup.criterion, schedule, strategy };
  const unnamed = (text: string) => withoutNames(text, names, `{${studentBlank}}`);
  return {
    title: unnamed(title),
    area,
    wording: withBlanks(wording, names),
    setUp: mapTexts(setUp, unnamed),
  };
}

export function loader({ request, context, params }: Route.LoaderArgs) {
  const { templateId } = params;
  return authorize(request, context, "template.add", null, async (scope) => {
    if (templateId !== "new" && !isId(templateId)) notFound();
    const template = templateId === "new" ? null : await findTemplate(scope, templateId);
    if (template?.removed) notFound();
    if (template) requirePermission(scope, "template.change", template.madeById);
    const search = new URL(request.url).searchParams;
    const [studentId, goalId] = [search.get("student"), search.get("goal")];
    const content =
      template ?? (isId(studentId) && isId(goalId) ? await fromGoal(scope, studentId, goalId) : null);
    const values: SetUpValues = content ? templateValues(content) : { perWeek: "1", "purpose.probe": "yes" };
    const ladders = await listLadders(scope);
    const read = propose(values["wording"] ?? "");
    return {
      template: template && { templateId: template.templateId, seen: template.changedAt },
      goalId: template ? null : goalId,
      newTemplateId: newId(),
      start: { values, known: content ? proposedValues(read, ladders).values : {}, spans: read.spans },
      areas: await listItems(scope, "area"),
      ladders,
    };
  });
}

const saveForm = z.object({
  templateId: id,
  seen: z.optional(z.string()),
  intent: z.enum(["save", "read", "remove", "restore"]),
  named: z._default(z.enum(["yes", ""]), ""),
});

/** A template is for everyone at the school: it names none of the students whom its writer knows. */
async function requireNobodyNamed(scope: PersonScope, content: TemplateContent): Promise<void> {
  // Family names are left out: too many of them are words, and a given name is what a wording uses.
  const names = (await listStudents(scope)).flatMap(({ givenName, calledName }) => [givenName, calledName]);
  const found = namesIn(textsIn(content).join("\n"), names);
  if (found.length > 0)
    throw new Invalid({
      named: `This contains the name ${found.join(", ")}, and everyone at the school can read it. Replace it with {student}, or confirm below that no student is meant.`,
    });
}

export const action = defineForm({
  permission: "template.add",
  async run(scope, { params, form, typed, wrong }: Submitted<{ templateId: string }>) {
    const read = readForm(form.has("templateId") ? form : withId(form, params.templateId), saveForm);
    if (!read.ok) notFound();
    const { templateId, intent, seen, named } = read.values;
    if (intent === "read") {
      const proposed = proposedValues(propose(typed["wording"] ?? ""), await listLadders(scope));
      return data({ problems: {}, typed: { ...typed, ...proposed.values } });
    }
    if (intent === "remove" || intent === "restore") {
      await removeTemplate(scope, templateId, intent === "remove");
      return redirect(`/school/templates${intent === "remove" ? `?removed=${templateId}` : ""}`);
    }
    const content = readTemplate(typed);
    if (!content.ok) throw new Invalid(problemsOf(content.problems));
    if (named !== "yes") await requireNobodyNamed(scope, content.template);
    if (params.templateId === "new") await addTemplate(scope, templateId, content.template);
    else if ((await changeTemplate(scope, templateId, content.template, seen ?? "")) === "conflict")
      return wrong(
        {
          form: "This template was changed in the meantime. Open it again in another tab, check it, and add what is missing.",
        },
        409,
      );
    return redirect("/school/templates");
  },
});

function withId(form: FormData, templateId: string): FormData {
  form.set("templateId", templateId);
  return form;
}

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => savingSetUp(request, () => serverAction()));
}

/** Another template is another form. */
export default function TemplatePage(props: Route.ComponentProps) {
  const { template, goalId } = props.loaderData;
  return <TemplateForm key={template?.templateId ?? goalId ?? "new"} {...props} />;
}

function TemplateForm({ loaderData, actionData }: Route.ComponentProps) {
  const { template, ladders, areas } = loaderData;
  const { busy, problems } = useForm(actionData);
  const [{ start, templateId, seen }] = useState({
    start: loaderData.start,
    templateId: template?.templateId ?? loaderData.newTemplateId,
    seen: template?.seen ?? "",
  });
  const ready = useAwake();
  const { form, values, ...read } = useSetUpForm({
    start,
    fills: true,
    typed: actionData?.typed,
    problems,
    ladders,
  });
  const result = useMemo(() => readTemplate(values), [values]);
  // What can be shown already does not wait for a name or a wording.
  const shown = useMemo(
    () =>
      readTemplate({ ...values, title: values["title"] || "The goal", wording: values["wording"] || "…" }),
    [values],
  );
  return (
    <div className="lg:grid lg:grid-cols-[minmax(0,1fr)_23rem] lg:gap-8" data-ready={ready || undefined}>
      <PageTitle title={template ? "Template" : "New template"} className="sr-only" />
      <div className="min-w-0">
        <header className="mb-2 flex flex-wrap items-baseline gap-x-4">
          <h2 className="font-serif text-[1.35rem] font-semibold">
            {template ? "Goal template" : "New goal template"}
          </h2>
          <Link to="/school/templates" className="btn btn-plain btn-sm ml-auto">
            Cancel
          </Link>
        </header>
        {read.continued ? <Continued startOver={read.startOver} /> : null}
        <FormProblem>
          {problems["form"] ??
            (Object.keys(problems).length > 0
              ? "Not saved yet: please look at the marked fields."
              : undefined)}
        </FormProblem>
        <SetUpContext value={form}>
          <Form method="post" noValidate className="grid">
            <input type="hidden" name="templateId" value={templateId} />
            <input type="hidden" name="seen" value={seen} />
            <Section title="The goal, with blanks">
              <WordingFields
                {...read}
                hint="Write blanks in braces. {student} and {date} are filled in for you; any other is asked for: {number of words}."
              />
              <TitleFields areas={areas} />
            </Section>
            <Section title="How it is measured">
              <MeasureFields ladders={ladders} />
            </Section>
            <Section title="When it is reached">
              <CriterionFields measure={shown.ok ? shown.template.setUp.measure : null} />
            </Section>
            <Section title="The work">
              <ScheduleFields />
              <StrategyField />
            </Section>
            {problems["named"] ? (
              <div role="alert" className="mb-3 rounded-lg border border-warning px-4 py-2">
                <p className="font-bold text-warning">{problems["named"]}</p>
                <label className="flex min-h-8 items-center gap-2">
                  <input type="checkbox" name="named" value="yes" className="size-4.5 accent-primary" />
                  No student is meant
                </label>
              </div>
            ) : null}
            <div className="save-bar">
              <button className="btn btn-primary h-11 px-6" name="intent" value="save" disabled={busy}>
                {busy ? "Saving …" : template ? "Save the changes" : "Add to the library"}
              </button>
              {template ? (
                <button className="btn btn-plain h-11" name="intent" value="remove" disabled={busy}>
                  Remove from the library
                </button>
              ) : null}
              <p className="text-fine text-soft" role="status">
                {result.ok ? "" : `Still open: ${openFields(result.problems)}`}
              </p>
            </div>
          </Form>
        </SetUpContext>
      </div>
      <section aria-label="Preview" className="min-w-0 pt-4">
        <h2 className="mb-3 text-fine font-bold text-soft">Preview</h2>
        {shown.ok ? (
          <Preview
            setUp={{
              ...shown.template,
              ...shown.template.setUp,
              dueOn: null,
              enteredBaseline: null,
              baselineEntries: null,
            }}
          />
        ) : (
          <p className="font-serif leading-relaxed text-soft">
            The recording panel appears here as soon as the template says how it is measured.
          </p>
        )}
      </section>
    </div>
  );
}
