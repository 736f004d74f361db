import "#app/names/load-names.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { defineIntents, intent, type Submitted } from "#app/kit/define-action.server.ts";
import { useForm } from "#app/kit/use-form.ts";
import type { PlanContent } from "#core/model/plan.ts";
import { v7 as newId } from "uuid";
import * as z from "zod/mini";
import { data, Link, redirect } from "react-router";
import { dateWithYear } from "#core/words/dates.ts";
import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import { isId } from "#server/access/scope.ts";
import { notFound } from "#server/errors.ts";
import { addPlan, changePlan, listPlans } from "#server/db/plans.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { Field, FormProblem, TextArea } from "#app/ui/field.tsx";
import { date, id, optionalDate, readForm, text } from "#app/ui/form-data.ts";
import { History, Removed } from "../student/line-page.tsx";
import { StudentTitle } from "#app/routes/student/student-title.tsx";
import { KeptForm } from "#app/kit/kept-form.tsx";
import type { Route } from "./+types/plan";

export function loader({ request, context, params }: Route.LoaderArgs) {
  const { studentId, planId } = params;
  if (planId === "new")
    return authorize(request, context, "plan.write", studentId, (scope) =>
      Promise.resolve({
        plan: null,
        planId: newId(),
        today: scope.today,
        mayChange: true,
      }),
    );
  return authorize(request, context, "incident.read", studentId, async (scope) => {
    const plan = (await listPlans(scope, studentId)).find((one) => one.planId === planId) ?? notFound();
    return {
      ...{ plan, planId },
      today: "",
      mayChange: may(scope.actor, "plan.correct", { circleRole: scope.circleRole, authorId: plan.authorId }),
    };
  });
}

const planForm = z
  .object({
    planId: id,
    name: text(60, "Add a few words to label its line."),
    thinking: text(2000, "What do you think is happening?"),
    trying: text(2000, "What will be tried?"),
    beginsOn: date,
    endsOn: optionalDate,
  })
  .check(
    z.refine(({ beginsOn, endsOn }) => endsOn === null || endsOn >= beginsOn, {
      message: "The last day lies before the first.",
      path: ["endsOn"],
    }),
  );
const changeForm = z.object({ revision: z.coerce.number() });

type Sent = Submitted<{ studentId: string; planId: string }>;

/** Changes a plan; a conflict where somebody else changed it meanwhile. */
async function change(
  scope: PersonScope,
  { params: { studentId, planId }, form, typed }: Sent,
  wanted: PlanContent | "removed" | "kept",
) {
  const read = readForm(form, changeForm);
  const ids = { studentId, planId: isId(planId) ? planId : notFound() };
  const outcome = read.ok ? await changePlan(scope, ids, read.values.revision, wanted) : "conflict";
  if (outcome !== "conflict") return redirect(`/students/${studentId}/plans/${planId}`);
  const problems = {
    form: "This was changed in the meantime. Your text is shown below. Compare the two, then save again.",
  };
  return data({ problems, typed: { ...typed, revision: "" } }, { status: 409 });
}

const save = intent({
  schema: planForm,
  async run(scope, { planId, ...content }, submitted: Sent) {
    const { studentId, planId: there } = submitted.params;
    if (there !== "new") return change(scope, submitted, content);
    await addPlan(scope, { studentId, planId }, content);
    return redirect(`/students/${studentId}/patterns?compare=${planId}#plans`);
  },
});

export const action = defineIntents({
  permission: ({ params }: Sent) => (params.planId === "new" ? "plan.write" : "plan.correct"),
  intents: {
    save,
    remove: { run: (scope: PersonScope, submitted: Sent) => change(scope, submitted, "removed") },
    restore: { run: (scope: PersonScope, submitted: Sent) => change(scope, submitted, "kept") },
  },
  otherwise: "save",
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

/** A plan as its history tells it. */
const planWords = ({ name, beginsOn, endsOn, thinking, trying }: PlanContent) => ({
  sentence: `${name}, from ${dateWithYear(beginsOn)}${endsOn ? ` to ${dateWithYear(endsOn)}` : ""}. ${thinking} Tried: ${trying}`,
  note: null,
});

/** A plan: the assumed reason of a behavior, and what is tried from a day on. */
export default function PlanPage({ loaderData, actionData, params: { studentId } }: Route.ComponentProps) {
  const { plan, planId, today, mayChange } = loaderData;
  const { busy, problems, typed, field } = useForm(actionData);
  const revision = <input type="hidden" name="revision" value={plan?.revision ?? 0} />;
  return (
    <section aria-label="Plan" className="max-w-2xl py-5">
      <p className="text-fine text-soft">
        <Link className="link" to={`/students/${studentId}/patterns`}>
          Patterns
        </Link>
        {plan ? ` · from ${dateWithYear(plan.beginsOn)} · ${plan.author}` : ""}
      </p>
      <StudentTitle
        title={plan ? plan.name : "What you think, and what will be tried"}
        className="mt-2 font-serif text-xl font-semibold"
      />
      <FormProblem>{problems["form"]}</FormProblem>
      {plan?.state === "removed" ? (
        <Removed mayChange={mayChange} busy={busy} hidden={revision}>
          Removed: it is no line on the time axis.
        </Removed>
      ) : null}
      {plan && (!mayChange || plan.state === "removed") ? (
        <div className="mt-3 font-serif leading-relaxed">
          <p dir="auto">{plan.thinking}</p>
          <p dir="auto">
            <span className="font-sans text-fine font-bold">Tried: </span>
            {plan.trying}
          </p>
        </div>
      ) : null}
      {mayChange && plan?.state !== "removed" ? (
        <KeptForm
          draft="plan"
          method="post"
          key={`${planId} ${plan?.revision}`}
          className="mt-4 grid gap-4"
          noValidate
        >
          <input type="hidden" name="planId" value={typed?.["planId"] ?? planId} />
          {revision}
          <div>
            <TextArea
              label="What do you think is happening?"
              maxLength={2000}
              dir="auto"
              hint="In your words. It is a guess, and is labeled as one."
              {...field("thinking", plan?.thinking)}
            />
            <names-under about={studentId} />
          </div>
          <div>
            <TextArea
              label="What will be tried?"
              maxLength={2000}
              dir="auto"
              {...field("trying", plan?.trying)}
            />
            <names-under about={studentId} />
          </div>
          <Field
            label="In a few words, for its line on the time axis"
            maxLength={60}
            dir="auto"
            {...field("name", plan?.name)}
          />
          <div className="flex flex-wrap gap-4">
            <Field label="First day" type="date" {...field("beginsOn", plan?.beginsOn ?? today)} />
            <Field
              label="Last day"
              type="date"
              hint="Empty while it goes on."
              {...field("endsOn", plan?.endsOn)}
            />
          </div>
          <p className="flex flex-wrap gap-3">
            <button className="btn btn-primary" name="intent" value="save" disabled={busy}>
              {busy ? "Saving …" : plan ? "Save the change" : "Begin it"}
            </button>
            {plan ? (
              <button className="btn btn-plain" name="intent" value="remove" disabled={busy}>
                Remove it
              </button>
            ) : (
              <Link className="btn btn-plain" to={`/students/${studentId}/patterns`}>
                Not now
              </Link>
            )}
          </p>
        </KeptForm>
      ) : null}
      {plan && plan.history.length > 1 ? (
        <History steps={plan.history.map(({ content, ...step }) => ({ ...step, ...planWords(content) }))} />
      ) : null}
    </section>
  );
}
