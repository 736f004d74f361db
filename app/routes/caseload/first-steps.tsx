import { Form, Link } from "react-router";
import type { FirstSteps } from "#server/db/own-settings.ts";

/** The first four steps of a school: each is ticked by being done, and leads to where it is done. */
export function FirstStepsTrail({ steps, mayInvite }: { steps: FirstSteps; mayInvite: boolean }) {
  const { studentId } = steps;
  const all: readonly { words: string; isDone: boolean; to: string | null }[] = [
    { words: "a student", isDone: steps.student, to: "/students/new" },
    {
      words: "a goal",
      isDone: steps.goal,
      to: studentId === null ? null : `/students/${studentId}/goals/new`,
    },
    {
      words: "a colleague",
      isDone: steps.colleague,
      to: mayInvite ? "/school/accounts/several" : "/school/staff",
    },
    { words: "a first sitting", isDone: steps.sitting, to: steps.goal ? "/record" : null },
  ];
  const next = all.find(({ isDone, to }) => !isDone && to !== null);
  return (
    <section
      aria-label="First steps"
      className="no-print mb-4 flex flex-wrap items-center gap-x-6 gap-y-2 rounded-lg bg-base-200 px-4 py-2"
    >
      <h2 className="text-fine font-bold">First steps</h2>
      <ol className="flex flex-wrap items-center gap-x-5 gap-y-1">
        {all.map((step, at) => (
          <li key={step.words} className="flex min-h-9 items-center gap-2">
            <span
              aria-hidden="true"
              className={`grid size-6 place-items-center rounded-full border text-fine font-bold ${
                step.isDone ? "border-primary bg-primary text-primary-content" : "border-soft text-soft"
              }`}
            >
              {step.isDone ? "✓" : at + 1}
            </span>
            {step.isDone || step.to === null ? (
              <span className={step.isDone ? "text-soft" : ""}>
                {step.words}
                <span className="sr-only">{step.isDone ? ", done" : ", comes later"}</span>
              </span>
            ) : (
              <Link className={`link ${step === next ? "font-bold" : ""}`} to={step.to}>
                {step.words}
              </Link>
            )}
          </li>
        ))}
      </ol>
      <Form method="post" action="/own-settings" className="ml-auto">
        <button
          className="link min-h-9 cursor-pointer text-fine text-soft"
          name="intent"
          value="skip the first steps"
        >
          Skip these
        </button>
      </Form>
    </section>
  );
}
