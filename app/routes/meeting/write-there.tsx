import { type ReactNode, useEffect, useEffectEvent, useState } from "react";
import { Link } from "react-router";
import { v7 as newId } from "uuid";
import { KeptForm, useKeptForm } from "#app/kit/kept-form.tsx";
import { DecisionFields } from "#app/routes/student/write-decision.tsx";
import { Field, fieldProps, FormProblem, TextArea } from "#app/ui/field.tsx";
import type { MeetingShown } from "./read-meeting.server.ts";

type Goal = MeetingShown["goals"][number];

/** What is written in a meeting, named as its form is sent. */
export type ThereIntent = "question" | "agreed" | "decide" | "criterion";
export const thereWords: Record<ThereIntent, string> = {
  question: "Question",
  agreed: "Agreed",
  decide: "Decision",
  criterion: "Criterion",
};

interface Sent {
  problems: Readonly<Record<string, string>>;
  typed: Readonly<Record<string, string>> | undefined;
  busy: boolean;
  /** Closes the form. */
  done: () => void;
}

/** Closes a form once it is saved. */
function ClosesSaved({ done }: { done: () => void }) {
  const { saves } = useKeptForm();
  const close = useEffectEvent(done);
  useEffect(() => {
    if (saves > 0) close();
  }, [saves]);
  return null;
}

/** A form over the wall: what is typed in it stays until it is saved, also when it is closed or the page is left. */
function ThereForm({
  intent,
  goal,
  save,
  sent: { problems, busy, done },
  children,
}: {
  intent: ThereIntent;
  goal: Goal | null;
  save: string;
  sent: Sent;
  children: ReactNode;
}) {
  return (
    <KeptForm
      draft={`${intent} ${goal?.goalId ?? ""}`}
      method="post"
      className="grid grid-cols-1 gap-4 p-5 text-[1.1rem]"
      preventScrollReset
      noValidate
    >
      <h2 className="font-serif text-[1.4rem] leading-tight font-semibold" dir="auto">
        {thereWords[intent]}
        {goal ? ` · ${goal.number} ${goal.title}` : ""}
      </h2>
      <input type="hidden" name="intent" value={intent} />
      <input type="hidden" name="goalId" value={goal?.goalId ?? ""} />
      {children}
      <FormProblem>{problems["form"]}</FormProblem>
      <p className="flex flex-wrap gap-3">
        <button className="btn btn-primary h-12" disabled={busy}>
          {busy ? "Saving …" : save}
        </button>
        <button type="button" className="btn btn-plain h-12" onClick={done}>
          Close
        </button>
      </p>
      <ClosesSaved done={done} />
    </KeptForm>
  );
}

/** A question, or what was agreed: of the goal on the wall, or of none. */
export function NoteForm({
  kind,
  studentId,
  goal,
  ...sent
}: { kind: "question" | "agreed"; studentId: string; goal: Goal | null } & Sent) {
  const [ids] = useState(() => ({ noteId: newId(), newMeetingId: newId() }));
  const field = fieldProps(sent.typed, sent.problems);
  return (
    <ThereForm intent={kind} goal={goal} save="Write it down" sent={sent}>
      <input type="hidden" name="noteId" value={sent.typed?.["noteId"] ?? ids.noteId} />
      <input type="hidden" name="newMeetingId" value={ids.newMeetingId} />
      {/* The watch over names is loaded once something is written. */}
      <div onFocus={() => void import("#app/names/names-under.ts")}>
        <TextArea
          label={kind === "agreed" ? "What was agreed" : "The question"}
          hint="All in the room read it, and reports that have notes."
          rows={3}
          maxLength={1000}
          dir="auto"
          {...field("words")}
        />
        <names-under about={studentId} />
      </div>
    </ThereForm>
  );
}

/** What is decided of the goal on the wall. */
export function DecisionForm({ goal, today, ...sent }: { goal: Goal; today: string } & Sent) {
  const { problems, typed } = sent;
  const [ids] = useState(() => ({ decisionId: newId(), phaseId: newId() }));
  return (
    <ThereForm intent="decide" goal={goal} save="Add to report" sent={sent}>
      <DecisionFields
        deciding={{ ...ids, today, problems, typed }}
        raisedBy="then change it with “Criterion”"
      />
    </ThereForm>
  );
}

/** Another criterion or due date for the goal on the wall, with the wording that says it. */
export function CriterionForm({ goal, studentId, ...sent }: { goal: Goal; studentId: string } & Sent) {
  const { problems, typed } = sent;
  const field = fieldProps(typed, problems);
  const { values, criterion } = goal;
  const there = (name: string) => field(name, values[name]);
  return (
    <ThereForm intent="criterion" goal={goal} save="Change the goal" sent={sent}>
      <input type="hidden" name="revision" value={goal.revision} />
      <p className="text-soft">{criterion ? `Now ${criterion}.` : "It has no criterion yet."}</p>
      <TextArea label="Wording" rows={3} maxLength={2000} dir="auto" {...there("wording")} />
      {goal.hasTarget ? (
        <p>
          What is to be collected is changed in{" "}
          <Link className="link" to={`/students/${studentId}/goals/${goal.goalId}/set-up`}>
            Set-up
          </Link>
          .
        </p>
      ) : null}
      <div className="grid grid-cols-1 gap-3 sm:grid-cols-[1fr_1fr_1fr_2fr]">
        {goal.hasTarget ? null : <Field label="Criterion" {...there("value")} />}
        <Field
          label="Reached in"
          inputMode="numeric"
          {...there("k")}
          problem={problems["window"] ?? problems["k"]}
        />
        <Field label="of the last" inputMode="numeric" {...there("n")} />
        <Field label="Due" type="date" {...there("dueOn")} />
      </div>
      <Field label="Why" maxLength={500} dir="auto" {...field("reason")} />
    </ThereForm>
  );
}
