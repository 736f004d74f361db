import { useState } from "react";
import { Form, Link, useNavigation } from "react-router";
import type { DecisionKind } from "#core/model/decision-kinds.ts";
import { Field, fieldProps, FormProblem, TextArea } from "#app/ui/field.tsx";
import { KeptForm } from "#app/kit/kept-form.tsx";

const choices: readonly (readonly [kind: DecisionKind, name: string, more: string])[] = [
  ["keep going", "Keep going", ""],
  ["raise", "Raise the criterion", "edit in Set-up"],
  ["change instruction", "Change the instruction", "begins a phase, a line in the chart"],
  ["new phase", "Begin a new phase", "another setting, prompt level, or strategy"],
  ["more data", "Take more data first", ""],
];
const begins: readonly string[] = ["change instruction", "new phase"];

/** What a decision is written with: ids made by the server, so that what is sent twice is one. */
export interface Deciding {
  decisionId: string;
  phaseId: string;
  today: string;
  problems: Readonly<Record<string, string>>;
  typed: Readonly<Record<string, string>> | undefined;
}

function Ids({ decisionId, phaseId, typed }: Deciding) {
  return (
    <>
      <input type="hidden" name="decisionId" value={typed?.["decisionId"] ?? decisionId} />
      <input type="hidden" name="phaseId" value={typed?.["phaseId"] ?? phaseId} />
    </>
  );
}

/** The question before anything is changed: was it taught as planned? */
export function TaughtAsPlanned({ action, deciding }: { action: string; deciding: Deciding }) {
  const busy = useNavigation().state !== "idle";
  const problem = deciding.typed?.["kind"] === "taught as planned" ? deciding.problems["on"] : undefined;
  return (
    <Form method="post" action={action} className="no-print mt-1 flex flex-wrap items-end gap-2">
      <Ids {...deciding} />
      <input type="hidden" name="kind" value="taught as planned" />
      <Field
        label="Taught as planned up to"
        type="date"
        name="on"
        max={deciding.today}
        defaultValue={deciding.today}
        problem={problem}
      />
      <button className="btn btn-plain" disabled={busy}>
        Yes, it was
      </button>
    </Form>
  );
}

/** The case manager's word that the goal is met, where its criterion is reached. */
export function ConfirmMet({
  action,
  today,
  revision,
  confirm,
}: {
  action: string;
  today: string;
  revision: number;
  confirm: readonly string[];
}) {
  const busy = useNavigation().state !== "idle";
  return (
    <Form method="post" action={action} className="no-print mt-1">
      {confirm.length > 0 ? (
        <p className="text-[0.9375rem]">
          No number shows this; look at it before you confirm: <span dir="auto">{confirm.join("; ")}.</span>
        </p>
      ) : null}
      <div className="mt-1 flex flex-wrap items-end gap-2">
        <input type="hidden" name="intent" value="decide" />
        <input type="hidden" name="revision" value={revision} />
        <Field label="Met on" type="date" name="on" className="min-w-44" max={today} defaultValue={today} />
        <Field label="Reason (optional)" name="reason" maxLength={500} className="min-w-52 flex-1" />
        <button className="btn btn-primary" name="act" value="met" disabled={busy}>
          Confirm as met
        </button>
      </div>
    </Form>
  );
}

/** The reason of a decision, as the report will have it. */
export function WhyDecided(field: ReturnType<ReturnType<typeof fieldProps>>) {
  return (
    <TextArea
      label="Why"
      maxLength={2000}
      rows={2}
      dir="auto"
      hint="Appears in the report as you write it. Do not name another student."
      {...field}
    />
  );
}

/** What is decided of the goal, at its chart: with a date and a reason, a line of the report. */
export function Decide({ action, setUp, deciding }: { action: string; setUp: string; deciding: Deciding }) {
  const { problems, today } = deciding;
  const typed = deciding.typed?.["kind"] === "taught as planned" ? undefined : deciding.typed;
  const busy = useNavigation().state !== "idle";
  const [kind, setKind] = useState(typed?.["kind"] ?? "");
  const field = fieldProps(typed, typed ? problems : {});
  return (
    <details className="no-print mt-2" open={typed !== undefined}>
      <summary className="w-fit cursor-pointer py-1 font-bold">Record a decision</summary>
      <KeptForm draft="decide" method="post" action={action} className="mt-2 grid max-w-2xl gap-3" noValidate>
        <FormProblem>{problems["form"]}</FormProblem>
        <Ids {...deciding} />
        <fieldset aria-describedby={problems["kind"] ? "kind-says" : undefined}>
          <legend className="text-fine font-bold">What did the team decide?</legend>
          <div className="mt-1 flex flex-wrap gap-x-5 gap-y-1">
            {choices.map(([value, name, more]) => (
              <label key={value} className="flex min-h-8 items-center gap-2">
                <input
                  type="radio"
                  name="kind"
                  value={value}
                  className="size-4.5 accent-primary"
                  checked={kind === value}
                  onChange={() => setKind(value)}
                />
                <span dir="auto">
                  {name}
                  {more ? <span className="text-fine text-soft"> ({more})</span> : null}
                </span>
              </label>
            ))}
          </div>
          {typed && problems["kind"] ? (
            <p id="kind-says" className="mt-1 text-fine font-bold text-error">
              {problems["kind"]}
            </p>
          ) : null}
        </fieldset>
        <div className="flex flex-wrap gap-3">
          <Field
            label={begins.includes(kind) ? "First day of the phase" : "Decided on"}
            type="date"
            {...field("on", today)}
          />
          {begins.includes(kind) ? (
            <Field
              label="Name of the phase"
              maxLength={100}
              dir="auto"
              className="min-w-60 flex-1"
              hint="In a few words, for its line in the chart."
              {...field("phaseName")}
            />
          ) : null}
        </div>
        <WhyDecided {...field("reason")} />
        <p className="flex flex-wrap gap-3">
          <button className="btn btn-primary" disabled={busy}>
            {busy ? "Saving …" : "Add to report"}
          </button>
          {kind === "raise" ? (
            <Link className="btn btn-plain" to={setUp}>
              To the set-up
            </Link>
          ) : null}
        </p>
      </KeptForm>
    </details>
  );
}
