import * as z from "zod/mini";
import { Link, redirect } from "react-router";
import { decisionLine } from "#core/report/decision-line.ts";
import { dateWithYear } from "#core/words/dates.ts";
import { enter } from "#server/access/enter.ts";
import { may } from "#server/access/table.ts";
import { isId, notFound } from "#server/access/visit.ts";
import { changeDecision, listDecisions } from "#server/db/decisions.ts";
import { listGoals } from "#server/db/students.ts";
import { keepTypedOffline } from "#app/recording/keep-typed-offline.ts";
import { readForm } from "#app/ui/form-data.ts";
import { TakenOut } from "./taken-out.tsx";
import type { Route } from "./+types/decision";

export function loader({ request, context, params }: Route.LoaderArgs) {
  return enter(request, context, "student.read", params.studentId, async (visit) => {
    const decision =
      (await listDecisions(visit, params.studentId)).find(
        ({ decisionId }) => decisionId === params.decisionId,
      ) ?? notFound();
    const goal = (await listGoals(visit, params.studentId)).find(({ goalId }) => goalId === decision.goalId);
    return {
      ...{ author: decision.author, removed: decision.removed, goalId: decision.goalId },
      number: goal?.number ?? "",
      begins: decision.phaseName !== null,
      when: dateWithYear(decision.on),
      said: decisionLine(goal?.title ?? "Goal", decision),
      mayChange: may(visit.person, "entry.remove", { part: visit.part, authorId: decision.authorId }),
    };
  });
}

const form = z.object({ intent: z.enum(["remove", "restore"]) });

export async function action({ request, context, params }: Route.ActionArgs) {
  const posted = await request.formData();
  const { studentId } = params;
  return enter(request, context, "entry.remove", studentId, async (visit) => {
    const decisionId = isId(params.decisionId) ? params.decisionId : notFound();
    const read = readForm(posted, form);
    if (read.ok)
      await changeDecision(
        visit,
        { studentId, decisionId },
        read.values.intent === "remove" ? "removed" : "restored",
      );
    return redirect(`/students/${studentId}/decisions/${decisionId}`);
  });
}

export async function clientAction({ serverAction }: Route.ClientActionArgs) {
  return keepTypedOffline(() => serverAction());
}

/** What was decided of a goal: taken out of the report, put back. */
export default function DecisionPage({
  loaderData: { author, when, said, removed, mayChange, goalId, number, begins },
  params: { studentId },
}: Route.ComponentProps) {
  return (
    <section aria-label="A decision" className="max-w-2xl py-5">
      <p className="text-fine text-soft">
        <Link className="link" to={`/students/${studentId}/goals/${goalId}`}>
          Goal {number}
        </Link>{" "}
        · {when} · {author}
      </p>
      <TakenOut {...{ said, removed, mayChange }} />
      {begins ? (
        <p className="mt-3 text-fine text-soft">
          The phase that began with it is a line in the chart of its own: it is changed and removed in the
          goal’s set-up.
        </p>
      ) : null}
    </section>
  );
}
