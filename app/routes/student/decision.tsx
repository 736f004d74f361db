import { defineAction, type Submitted } from "#app/kit/define-action.server.ts";
import { useForm } from "#app/kit/use-form.ts";
import * as z from "zod/mini";
import { Link, redirect } from "react-router";
import { decisionLine } from "#core/report/decision-line.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import { isId } from "#server/access/scope.ts";
import { notFound } from "#server/errors.ts";
import { changeDecision, correctDecision, findDecision } from "#server/db/decisions.ts";
import { listRevisions } from "#server/db/revisions.ts";
import { findGoal } from "#server/db/students.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { Field, FormProblem } from "#app/ui/field.tsx";
import { date, optionalText } from "#app/ui/form-data.ts";
import { WhyDecided } from "./write-decision.tsx";
import { problemsOfDecision } from "./decide.server.ts";
import { CorrectionEnd, History, isTold } from "./line-page.tsx";
import { TakenOut } from "./taken-out.tsx";
import { StudentTitle } from "#app/routes/student/student-title.tsx";
import { KeptForm } from "#app/kit/kept-form.tsx";
import type { Route } from "./+types/decision";

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "student.read", params.studentId, async (scope) => {
    const decision = await findDecision(scope, params);
    const { number, title } = await findGoal(scope, params.studentId, decision.goalId);
    return {
      ...{ author: decision.author, removed: decision.removed, goalId: decision.goalId },
      ...{ on: decision.on, reason: decision.reason, seen: decision.revision },
      number,
      begins: decision.phaseName !== null,
      when: dateWithYear(decision.on),
      said: decisionLine(title, decision),
      history: (await listRevisions(scope, "decision", decision.decisionId)).map(({ content, ...step }) => {
        const { sentence, note } = decisionLine(title, { ...decision, reason: content.reason });
        return { ...step, sentence: `${dateWithYear(content.on)}: ${sentence}`, note };
      }),
      mayChange: may(scope.actor, "entry.correct", {
        circleRole: scope.circleRole,
        authorId: decision.authorId,
      }),
    };
  });
}

const forms = z.discriminatedUnion("intent", [
  z.object({
    intent: z.literal("correct"),
    on: date,
    reason: optionalText(2000),
    why: optionalText(500),
    seen: z.pipe(z.string().check(z.regex(/^\d{1,4}$/)), z.transform(Number)),
  }),
  z.object({ intent: z.literal("remove") }),
  z.object({ intent: z.literal("restore") }),
]);

export const action = defineAction({
  permission: "entry.correct",
  schema: forms,
  async run(scope, values, { params, wrong }: Submitted<{ studentId: string; decisionId: string }>) {
    const { studentId } = params;
    const ids = { studentId, decisionId: isId(params.decisionId) ? params.decisionId : notFound() };
    if (values.intent === "correct") {
      const { kind } = await findDecision(scope, ids);
      const problems = problemsOfDecision(kind, values, scope.today);
      if (Object.keys(problems).length > 0) return wrong(problems);
      const outcome = await correctDecision(scope, ids, {
        ...{ on: values.on, reason: values.reason ?? "" },
        ...{ why: values.why, expectedRevision: values.seen },
      });
      if (outcome === "conflict")
        return wrong(
          { form: "This decision was changed in the meantime. Open it again from the report." },
          409,
        );
    } else await changeDecision(scope, ids, values.intent === "remove" ? "removed" : "restored");
    return redirect(`/students/${studentId}/decisions/${ids.decisionId}`);
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

/** What was decided of a goal: corrected, taken out of the report, put back, and what stood before. */
export default function DecisionPage({
  loaderData: { author, when, said, removed, mayChange, goalId, number, begins, on, reason, seen, history },
  actionData,
  params: { studentId },
}: Route.ComponentProps) {
  const { busy, problems, typed, field } = useForm(actionData);
  return (
    <section aria-label="A decision" className="max-w-2xl py-5">
      <StudentTitle title={`Decision of ${when}`} />
      <p className="text-fine text-soft">
        <Link className="link" to={`/students/${studentId}/goals/${goalId}`}>
          Goal {number}
        </Link>{" "}
        · {when} · {author}
      </p>
      <TakenOut
        {...{ said, removed, mayChange }}
        correcting={
          <KeptForm
            draft="correct"
            method="post"
            key={seen}
            className="mt-6 grid gap-4 border-t border-base-300 pt-5"
            noValidate
          >
            <h2 className="text-lg font-bold">Correct it</h2>
            <FormProblem>{problems["form"]}</FormProblem>
            <input type="hidden" name="seen" value={typed?.["seen"] ?? seen} />
            <Field
              label="Decided on"
              type="date"
              className="w-fit"
              {...(begins
                ? {
                    hint: "The phase that began with it is a line of its own: it is changed in the goal’s set-up.",
                  }
                : {})}
              {...field("on", on)}
            />
            <WhyDecided {...field("reason", reason)} />
            <CorrectionEnd reasonName="why" what="decision" typed={typed} problems={problems} busy={busy} />
          </KeptForm>
        }
      />
      {isTold(history) ? <History steps={history} /> : null}
    </section>
  );
}
