import { defineAction, type Submitted } from "#app/kit/define-action.server.ts";
import { useForm } from "#app/kit/use-form.ts";
import { listRevisions } from "#server/db/revisions.ts";
import * as z from "zod/mini";
import { Link, redirect } from "react-router";
import { notMeasuredLine } from "#core/report/entry-line.ts";
import { dateWithYear, shortDate, timeOfDay } from "#core/words/dates.ts";
import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import { isId } from "#server/access/scope.ts";
import { notFound } from "#server/errors.ts";
import { changeNotMeasured, findNotMeasured, type NotMeasuredChange } from "#server/db/not-measured.ts";
import { findGoal } from "#server/db/students.ts";
import { keepTypedOffline } from "#app/kit/keep-typed-offline.ts";
import { FormProblem, Select } from "#app/ui/field.tsx";
import { optionalText } from "#app/ui/form-data.ts";
import { CorrectionEnd, History, isTold, noteWithMark, Removed } from "./line-page.tsx";
import { StudentTitle } from "#app/routes/student/student-title.tsx";
import { KeptForm } from "#app/kit/kept-form.tsx";
import type { Route } from "./+types/not-measured";

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "entry.read", params.studentId, async (scope) => {
    const line =
      (isId(params.noteId) ? await findNotMeasured(scope, params.studentId, params.noteId) : null) ??
      notFound();
    const goal = await findGoal(scope, params.studentId, line.goalId);
    return {
      revision: line.revision,
      goal: { goalId: goal.goalId, number: goal.number, title: goal.title },
      said: notMeasuredLine(goal.title, line.reason, line.note),
      reason: line.reason,
      note: line.note,
      noteForTeam: line.noteForTeam,
      when: `${shortDate(line.on)}, ${timeOfDay(line.time)}`,
      author: line.author,
      removed: line.removed && { ...line.removed, when: momentWords(line.removed.when) },
      history: (await listRevisions(scope, "not measured", line.noteId)).map(({ content, ...step }) => ({
        ...step,
        ...notMeasuredLine(goal.title, content.reason, noteWithMark(content.note, content.noteForTeam)),
      })),
      mayChange: may(scope.actor, "entry.correct", { circleRole: scope.circleRole, authorId: line.authorId }),
    };
  });
}

/** `2026-11-24 10:20` in words. */
const momentWords = (moment: string) =>
  `${dateWithYear(moment.slice(0, 10))}, ${timeOfDay(moment.slice(11))}`;

const common = {
  why: optionalText(500),
  seen: z.pipe(z.string().check(z.regex(/^\d{1,6}$/)), z.transform(Number)),
};
const forms = z.discriminatedUnion("intent", [
  z.object({
    ...common,
    intent: z.literal("correct"),
    reason: z.enum(["refused", "interrupted"]),
    note: optionalText(2000),
    noteForTeam: z.optional(z.string()),
  }),
  z.object({ ...common, intent: z.literal("remove") }),
  z.object({ intent: z.literal("restore") }),
]);

function changeOf(values: z.output<typeof forms>): NotMeasuredChange {
  if (values.intent === "restore") return { act: "restored", expectedRevision: null, why: null };
  const { intent, seen: expectedRevision, why } = values;
  return intent === "remove"
    ? { act: "removed", expectedRevision, why }
    : {
        act: "corrected",
        expectedRevision,
        why,
        reason: values.reason,
        note: values.note,
        noteForTeam: Boolean(values.noteForTeam),
      };
}

export const action = defineAction({
  permission: "entry.correct",
  schema: forms,
  async run(scope, values, { params, wrong }: Submitted<{ studentId: string; noteId: string }>) {
    const { studentId } = params;
    const noteId = isId(params.noteId) ? params.noteId : notFound();
    const outcome = await changeNotMeasured(scope, { studentId, noteId }, changeOf(values));
    return outcome === "conflict"
      ? wrong({ form: "This line was changed in the meantime. Open it again from the report." }, 409)
      : redirect(`/students/${studentId}/not-measured/${noteId}`);
  },
});

export async function clientAction({ request, serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction(), request);
}

/** A line of what was not measured: corrected, removed, put back, and what stood before. */
export default function NotMeasuredPage({ loaderData, actionData, params }: Route.ComponentProps) {
  const { goal, said, reason, note, noteForTeam, revision, when, author, removed, history, mayChange } =
    loaderData;
  const { busy, problems, typed } = useForm(actionData);
  return (
    <section aria-label="Not measured" className="max-w-2xl py-5">
      <StudentTitle title={`Not measured, ${when}`} />
      <p className="text-fine text-soft">
        <Link className="link" to={`/students/${params.studentId}/goals/${goal.goalId}`}>
          {goal.number} {goal.title}
        </Link>{" "}
        · {when} · {author}
      </p>
      <p className={`mt-2 font-serif text-xl leading-relaxed ${removed ? "text-soft line-through" : ""}`}>
        {said.sentence} {said.note}
      </p>
      <FormProblem>{problems["form"]}</FormProblem>
      {removed ? (
        <Removed mayChange={mayChange} busy={busy}>
          Removed by {removed.by}, {removed.when}. It is not in the report.
          {removed.reason ? ` Reason: ${removed.reason}` : ""}
        </Removed>
      ) : null}
      {mayChange && !removed ? (
        <KeptForm
          draft="correct"
          method="post"
          key={revision}
          className="mt-6 grid gap-4 border-t border-base-300 pt-5"
          noValidate
        >
          <h2 className="text-lg font-bold">Correct it</h2>
          <input type="hidden" name="seen" value={typed?.["seen"] ?? revision} />
          <Select
            label="Why it was not measured"
            name="reason"
            defaultValue={typed?.["reason"] ?? reason}
            options={[
              ["refused", "refused altogether"],
              ["interrupted", "interrupted before the first mark"],
            ]}
            problem={problems["reason"]}
          />
          <CorrectionEnd
            note={note}
            noteForTeam={noteForTeam}
            reasonName="why"
            what="line"
            typed={typed}
            problems={problems}
            busy={busy}
          />
        </KeptForm>
      ) : null}
      {isTold(history) ? <History steps={history} /> : null}
    </section>
  );
}
