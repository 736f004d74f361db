import { Form, Link, redirect } from "react-router";
import { compareObservers } from "#core/agreement/compare-observers.ts";
import { judgeEntry } from "#core/measures/kinds.ts";
import type { Measure, ObservedEntry } from "#core/measures/measure.ts";
import { recordedWords } from "#core/report/entry-line.ts";
import { dateWithYear, timeOfDay } from "#core/words/dates.ts";
import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import { isId } from "#server/access/scope.ts";
import { notFound } from "#server/errors.ts";
import { findObservedTwice, removeSecondObservation } from "#server/db/second-observations.ts";
import { findGoal } from "#server/db/students.ts";
import { StudentTitle } from "#app/routes/student/student-title.tsx";
import type { Route } from "./+types/beside";

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "entry.read", params.studentId, async (scope) => {
    const twice =
      (isId(params.observationId)
        ? await findObservedTwice(scope, params.studentId, params.observationId)
        : null) ?? notFound();
    const goal = await findGoal(scope, params.studentId, twice.goalId);
    const { measure, second, own } = twice;
    // What a student thinks of their own work is no second observation of it.
    const first = own ? null : twice.first;
    return {
      goal: { goalId: goal.goalId, number: goal.number, title: goal.title },
      when: `${dateWithYear(twice.on)}, ${timeOfDay(twice.time)}`,
      observer: twice.observer,
      own,
      note: twice.note,
      first: first && {
        entryId: first.entryId,
        author: first.author,
        words: wordsOf(measure, first.entry),
      },
      words: wordsOf(measure, second.entry),
      compared: first && compareObservers(measure, first, second),
      mayRemove: may(scope.actor, "entry.remove", {
        circleRole: scope.circleRole,
        authorId: twice.observerId,
      }),
    };
  });
}

function wordsOf(measure: Measure, entry: ObservedEntry): string {
  const judged = judgeEntry(measure, entry);
  return judged.ok ? recordedWords({ measure, entry, score: judged.score }) : "";
}

export async function action({ request, context, params }: Route.ActionArgs) {
  return authorize(request, context, "entry.remove", params.studentId, async (scope) => {
    const { studentId } = params;
    const observationId = isId(params.observationId) ? params.observationId : notFound();
    const goalId = await removeSecondObservation(scope, { studentId, observationId });
    return redirect(`/students/${studentId}/goals/${goalId}`);
  });
}

/** Two observers of the same goal at the same time: every figure of their agreement, and mark by mark. */
export default function Beside({ loaderData, params }: Route.ComponentProps) {
  const { goal, when, observer, own, note, first, words, compared, mayRemove } = loaderData;
  const title = own ? "The student’s own rating" : "Two observers";
  return (
    <section aria-label={title} className="max-w-2xl py-5">
      <StudentTitle title={`${title}, ${when}`} />
      <p className="text-fine text-soft">
        <Link className="link" to={`/students/${params.studentId}/goals/${goal.goalId}`}>
          {goal.number} {goal.title}
        </Link>{" "}
        · {when}
      </p>
      <p className="mt-2 font-serif text-xl leading-relaxed">
        {own ? `${words} ${note ?? ""}` : compared ? compared.said : "Not compared yet"}
      </p>
      <dl className="mt-3 grid grid-cols-[max-content_1fr] gap-x-6 gap-y-1 text-[0.9375rem]" hidden={own}>
        <dt className="text-soft">{first ? first.author : "The first observer"}</dt>
        <dd>
          {first ? (
            <Link className="link" to={`/students/${params.studentId}/entries/${first.entryId}`}>
              {first.words}
            </Link>
          ) : (
            "has not saved a matching entry yet. The two are compared as soon as it is saved."
          )}
        </dd>
        <dt className="text-soft">{observer}, beside</dt>
        <dd>
          {words}
          {note ? <span className="font-serif"> {note}</span> : null}
        </dd>
      </dl>
      {compared ? (
        <>
          <h2 className="mt-6 border-t border-base-300 pt-4 font-bold">All figures</h2>
          <dl className="mt-1 grid grid-cols-[max-content_1fr] gap-x-6 gap-y-1 text-[0.9375rem]">
            {compared.figures.map(({ name, words: called, shown }) => (
              <div key={name} className="contents">
                <dt className="text-soft">{called}</dt>
                <dd>{shown}</dd>
              </div>
            ))}
          </dl>
          <div className="mt-5 max-h-96 overflow-auto" tabIndex={0} role="group" aria-label="Mark by mark">
            <table className="w-full text-left text-[0.9375rem]">
              <thead className="text-fine text-soft">
                <tr>
                  {["Unit", first?.author ?? "", observer, "Agree"].map((heading) => (
                    <th key={heading} scope="col" className="py-1 pr-4 font-bold">
                      {heading}
                    </th>
                  ))}
                </tr>
              </thead>
              <tbody>
                {compared.rows.map((row, index) => (
                  <tr key={index} className="border-t border-base-300">
                    <th scope="row" className="py-1.5 pr-4 font-normal" dir="auto">
                      {row.unit}
                    </th>
                    <td className="py-1.5 pr-4" dir="auto">
                      {row.first}
                    </td>
                    <td className="py-1.5 pr-4" dir="auto">
                      {row.second}
                    </td>
                    <td className={`py-1.5 ${row.agree ? "text-soft" : "font-bold"}`}>
                      {row.agree ? "yes" : "no"}
                    </td>
                  </tr>
                ))}
              </tbody>
            </table>
          </div>
        </>
      ) : null}
      <p className="mt-4 text-fine text-soft">
        {own
          ? `Written down by ${observer}. It is shown beside the adults’ ratings and never counts for the goal.`
          : "A second observation never counts for the goal and is no line of the report."}
      </p>
      {mayRemove ? (
        <Form method="post" className="mt-4">
          <button className="btn btn-plain">
            {own ? "Remove this rating" : "Remove from the comparison"}
          </button>
        </Form>
      ) : null}
    </section>
  );
}
