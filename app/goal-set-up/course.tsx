import { Form, Link, useNavigation } from "react-router";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { shortDate } from "#core/words/dates.ts";
import { Field } from "#app/ui/field.tsx";

interface Phase {
  phaseId: string;
  name: string;
  isBaseline: boolean;
  startsOn: string;
  reason: string;
}

/** The phases of a goal: each begins on a date, with a name and a reason, and is a line in the chart. */
export function PhasesOfGoal({
  phases,
  newPhaseId,
  today,
  problems,
  typed,
}: {
  phases: readonly Phase[];
  newPhaseId: string;
  today: string;
  problems: Readonly<Record<string, string>>;
  typed: Readonly<Record<string, string>> | undefined;
}) {
  const busy = useNavigation().state !== "idle";
  const open = phases.some(({ phaseId }) => phaseId === typed?.["phaseId"]) ? undefined : typed;
  return (
    <section id="phases" aria-label="Phases" className="mt-6 border-t border-base-300 pt-4">
      <h2 className="font-serif text-[1.15rem] font-semibold">Phases</h2>
      <p className="text-fine text-soft">
        A new strategy, setting or prompt level begins a phase. No trend is drawn across its line.
      </p>
      <ul className="mt-3 grid gap-2">
        {phases.map((phase) => (
          <li key={`${phase.phaseId} ${phase.name} ${phase.startsOn}`}>
            <details open={typed?.["phaseId"] === phase.phaseId}>
              <summary className="cursor-pointer py-1">
                <b>{phase.name}</b> from {shortDate(phase.startsOn)}
                {phase.isBaseline ? " (baseline)" : ""}
                {phase.reason ? <span className="text-soft"> · {phase.reason}</span> : null}
              </summary>
              <KeptForm
                draft={`phase ${phase.phaseId}`}
                method="post"
                className="mt-1 mb-2 flex flex-wrap items-start gap-3"
                noValidate
              >
                <PhaseFields phase={phase} problems={typed?.["phaseId"] === phase.phaseId ? problems : {}} />
                <button className="btn btn-plain mt-6" name="intent" value="phase" disabled={busy}>
                  Change it
                </button>
                <button className="btn btn-plain mt-6" name="intent" value="phase-remove" disabled={busy}>
                  Remove the line
                </button>
              </KeptForm>
            </details>
          </li>
        ))}
      </ul>
      <KeptForm
        draft="new phase"
        key={`${newPhaseId} ${phases.length}`}
        method="post"
        className="mt-3 flex flex-wrap items-start gap-3"
        noValidate
      >
        <PhaseFields
          phase={{
            phaseId: newPhaseId,
            name: open?.["name"] ?? "",
            startsOn: open?.["startsOn"] ?? today,
            reason: open?.["reason"] ?? "",
            isBaseline: open?.["isBaseline"] === "yes",
          }}
          problems={open ? problems : {}}
        />
        <button className="btn btn-plain mt-6" name="intent" value="phase" disabled={busy}>
          Begin a phase
        </button>
      </KeptForm>
    </section>
  );
}

function PhaseFields({ phase, problems }: { phase: Phase; problems: Readonly<Record<string, string>> }) {
  return (
    <>
      <input type="hidden" name="phaseId" value={phase.phaseId} />
      <Field label="Name" name="name" defaultValue={phase.name} maxLength={100} problem={problems["name"]} />
      <Field
        label="Begins"
        name="startsOn"
        type="date"
        defaultValue={phase.startsOn}
        problem={problems["startsOn"]}
      />
      <Field
        label="Why"
        name="reason"
        defaultValue={phase.reason}
        maxLength={500}
        className="min-w-52 flex-1"
        problem={problems["reason"]}
      />
      <label className="mt-7 flex min-h-8 items-center gap-2 text-[0.9375rem]">
        <input
          type="checkbox"
          className="size-4.5 accent-primary"
          name="isBaseline"
          value="yes"
          defaultChecked={phase.isBaseline}
        />
        baseline
      </label>
    </>
  );
}

interface Course {
  goalId: string;
  revision: number;
  entries: number;
  metOn: string | null;
  ended: { how: string; on: string; reason: string } | null;
  reached: boolean;
  /** Without a criterion only a person can tell whether it is met. */
  judged: boolean;
  history: readonly { revision: number; when: string; by: string | null; said: string; reason: string }[];
}

/** What the case manager decides about the goal, and everything that has happened to it. */
export function CourseOfGoal({
  goal,
  studentId,
  today,
  problems,
}: {
  goal: Course;
  studentId: string;
  today: string;
  problems: Readonly<Record<string, string>>;
}) {
  const busy = useNavigation().state !== "idle";
  const acts = goal.ended
    ? [["taken up again", "Take it up again"]]
    : [
        // With a criterion it is confirmed on the goal's page, where the criterion is said to be reached.
        ...(goal.metOn ? [["not met", "Not met after all"]] : goal.judged ? [["met", "Confirm as met"]] : []),
        ["discontinued", "Discontinue"],
        ["continued", "Close: continued as another goal"],
      ];
  return (
    <section aria-label="Goal history" className="mt-6 border-t border-base-300 pt-4">
      <h2 className="font-serif text-[1.15rem] font-semibold">Goal status</h2>
      <p className="text-[0.9375rem]">
        {goal.ended
          ? `Ended (${goal.ended.how}) on ${shortDate(goal.ended.on)}${goal.ended.reason ? `: ${goal.ended.reason}` : ""}.`
          : goal.metOn
            ? `Confirmed as met on ${shortDate(goal.metOn)}.`
            : goal.reached
              ? "The criterion has been reached. Confirm the goal as met on its page."
              : "The criterion has not been reached yet."}
      </p>
      <KeptForm draft="decide" method="post" className="mt-3 flex flex-wrap items-start gap-3" noValidate>
        <input type="hidden" name="intent" value="decide" />
        <input type="hidden" name="revision" value={goal.revision} />
        <Field label="On" name="on" type="date" defaultValue={today} problem={problems["on"]} />
        <Field
          label="Reason"
          name="reason"
          maxLength={500}
          className="min-w-52 flex-1"
          problem={problems["reason"]}
        />
        <p className="mt-6 flex flex-wrap gap-2">
          {acts.map(([act = "", label]) => (
            <button
              key={act}
              className="btn btn-plain h-auto min-h-10 shrink py-1 whitespace-normal"
              name="act"
              value={act}
              disabled={busy}
            >
              {label}
            </button>
          ))}
        </p>
      </KeptForm>
      <p className="mt-3 flex flex-wrap gap-x-5 gap-y-1">
        <Link className="link" to={`/students/${studentId}/copy?goal=${goal.goalId}`}>
          Copy it, to the next year or another student
        </Link>
        <Link className="link" to={`/school/templates/new?student=${studentId}&goal=${goal.goalId}`}>
          Save as a template
        </Link>
      </p>
      {goal.entries > 0 ? (
        <p className="mt-2 text-fine text-soft">
          A goal with entries is never deleted. This one has {goal.entries}.
        </p>
      ) : (
        <Form method="post" className="mt-2">
          <details open={problems["remove"] !== undefined}>
            <summary className="w-fit cursor-pointer py-1 text-fine font-bold text-soft hover:text-base-content">
              Set up by mistake?
            </summary>
            <p className="mb-2 text-[0.9375rem]">
              Nothing has been recorded for it, so it can be removed for good, with its set-up and history.
            </p>
            {problems["remove"] ? (
              <p role="alert" className="mb-2 text-fine font-bold text-error">
                {problems["remove"]}
              </p>
            ) : null}
            <button className="btn btn-plain" name="intent" value="remove" disabled={busy}>
              Remove this goal
            </button>
          </details>
        </Form>
      )}
      <ol className="mt-4">
        {goal.history.map((line) => (
          <li
            key={line.revision}
            className="grid grid-cols-[9rem_1fr] gap-x-4 border-t border-base-300 py-2 text-[0.9375rem] max-sm:grid-cols-1"
          >
            <span className="text-fine text-soft">
              {line.when}
              {line.by ? <span className="block">{line.by}</span> : null}
            </span>
            <span>
              {line.said}
              {line.reason ? <span className="block text-fine text-soft">{line.reason}</span> : null}
            </span>
          </li>
        ))}
      </ol>
    </section>
  );
}
