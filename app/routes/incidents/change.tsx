import { Link } from "react-router";
import type { SpanComparison, PatternChoice } from "#core/incidents/choose.ts";
import { changeWords } from "#core/incidents/rate-words.ts";
import { dateWithYear } from "#core/words/dates.ts";
import type { Plan } from "#core/model/plan.ts";
import { type Behind, TableFold } from "./pictures.tsx";
import type { PatternTable } from "./tables.ts";

/** What changed between two spans: how often, how long, how strong. */
export function PatternChange({
  choice: { compare },
  comparison,
  table,
  behind,
}: {
  choice: PatternChoice;
  comparison: SpanComparison;
  table: () => PatternTable;
  behind: Behind;
}) {
  const title =
    typeof compare === "string" ? "Against the span before" : `Before and since “${compare.name}”`;
  return (
    <section aria-labelledby="change" className="mt-6 border-t border-base-300 pt-4">
      <h2 id="change" className="font-serif text-lg font-semibold">
        {title}
      </h2>
      <p className="mt-1">{changeWords(comparison.rates)}</p>
      <TableFold
        name="change"
        title={`how long and how strong, ${title[0]?.toLowerCase()}${title.slice(1)}`}
        table={table}
        behind={behind}
        words="How long and how strong, before and after"
      />
    </section>
  );
}

/** What people think is happening and what they try: each is a line on the time axis from its first day. */
export function Plans({
  studentId,
  plans,
  mayPlan,
  chosen,
}: {
  studentId: string;
  plans: readonly (Plan & { changed: string | null })[];
  mayPlan: boolean;
  /** The plan that is compared around. */
  chosen: string | null;
}) {
  return (
    <section aria-labelledby="plans" className="mt-6 border-t border-base-300 pt-4">
      <div className="flex flex-wrap items-center gap-3">
        <h2 id="plans" className="font-serif text-lg font-semibold">
          What we think and what we try
        </h2>
        {mayPlan ? (
          <Link className="btn btn-plain btn-sm no-print" to={`/students/${studentId}/plans/new`}>
            Record an incident
          </Link>
        ) : null}
      </div>
      {plans.length === 0 ? (
        <p className="mt-1 max-w-[46rem] text-soft">
          No plan yet. Write what you think is happening, what you will try, and from which day. The day
          becomes a line on the time axis, and this page shows what changed.
        </p>
      ) : (
        <ol className="mt-2 grid gap-3">
          {plans.map((plan) => (
            <li
              key={plan.planId}
              className="max-w-[46rem] rounded-lg border border-base-300 px-4 py-3 data-[chosen]:border-base-content"
              data-chosen={chosen === plan.planId || undefined}
            >
              <p className="flex flex-wrap items-baseline gap-x-3">
                <Link
                  className="link font-bold"
                  to={`/students/${studentId}/plans/${plan.planId}`}
                  dir="auto"
                >
                  {plan.name}
                </Link>
                <span className="text-fine text-soft">
                  from {dateWithYear(plan.beginsOn)}
                  {plan.endsOn ? ` to ${dateWithYear(plan.endsOn)}` : ""} · {plan.author}
                </span>
              </p>
              <p className="mt-1 font-serif leading-relaxed break-words" dir="auto">
                {plan.thinking}
              </p>
              <p className="font-serif leading-relaxed break-words" dir="auto">
                <span className="font-sans text-fine font-bold">Tried: </span>
                {plan.trying}
              </p>
              <p className="mt-1 text-fine">
                {plan.changed ?? (
                  <span className="text-soft">
                    It began outside of the chosen span.{" "}
                    <Link className="link" to={`?span=all&compare=${plan.planId}`} preventScrollReset>
                      Look at two school years
                    </Link>
                  </span>
                )}
              </p>
            </li>
          ))}
        </ol>
      )}
    </section>
  );
}
