import { useEffect, useEffectEvent, useRef, useState } from "react";
import { Link, useNavigation, useParams } from "react-router";
import type { DecisionKind } from "#core/model/decision-kinds.ts";
import { Field, fieldProps, FormProblem, TextArea } from "#app/ui/field.tsx";
import { KeptForm } from "#app/kit/kept-form.tsx";
import { type Deciding, Ids } from "./decide.tsx";

const choices: readonly (readonly [kind: DecisionKind, name: string, more: string])[] = [
  ["keep going", "Keep going", ""],
  ["raise", "Raise the criterion", ""],
  ["change instruction", "Change the instruction", "begins a phase, a line in the chart"],
  ["new phase", "Begin a new phase", "another setting, prompt level, or strategy"],
  ["more data", "Take more data first", ""],
];
const begins: readonly string[] = ["change instruction", "new phase"];

/** The reason of a decision, as the report will have it. */
export function WhyDecided(field: ReturnType<ReturnType<typeof fieldProps>>) {
  const { studentId = "" } = useParams();
  return (
    // The watch over names is loaded once the reason is begun.
    <div onFocus={() => void import("#app/names/names-under.ts")}>
      <TextArea
        label="Why"
        maxLength={2000}
        rows={2}
        dir="auto"
        hint="Appears in the report as written."
        {...field}
      />
      <names-under about={studentId} />
    </div>
  );
}

/** What is decided, since when, and why: the fields of a decision in any form. */
export function DecisionFields({
  deciding,
  raisedBy,
  chosen,
}: {
  deciding: Deciding;
  /** How the criterion itself is raised. */
  raisedBy: string;
  chosen?: (kind: string) => void;
}) {
  const { problems, today, typed } = deciding;
  const [kind, setKind] = useState(typed?.["kind"] ?? "");
  const choicesOf = useRef<HTMLFieldSetElement>(null);
  const choose = (one: string) => {
    setKind(one);
    chosen?.(one);
  };
  const early = useEffectEvent(() => {
    const there = choicesOf.current?.querySelector<HTMLInputElement>("input:checked");
    if (there) choose(there.value);
  });
  // What was chosen before scripts had taken over this part of the page is not taken back.
  useEffect(() => early(), []);
  const field = fieldProps(typed, typed ? problems : {});
  return (
    <>
      <Ids {...deciding} />
      <fieldset ref={choicesOf} aria-describedby={problems["kind"] ? "kind-says" : undefined}>
        <legend className="text-fine font-bold">What did the team decide?</legend>
        <div className="mt-1 flex flex-wrap gap-x-5 gap-y-1">
          {choices.map(([value, name, about]) => {
            const more = value === "raise" ? raisedBy : about;
            return (
              <label key={value} className="flex min-h-8 items-center gap-2">
                <input
                  type="radio"
                  name="kind"
                  value={value}
                  className="size-4.5 accent-primary"
                  checked={kind === value}
                  onChange={() => choose(value)}
                />
                <span dir="auto">
                  {name}
                  {more ? <span className="text-fine text-soft"> ({more})</span> : null}
                </span>
              </label>
            );
          })}
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
    </>
  );
}

/** What is decided of the goal, at its chart: with a date and a reason, a line of the report. */
export default function Decide({
  action,
  setUp,
  deciding,
}: {
  action: string;
  setUp: string;
  deciding: Deciding;
}) {
  const typed = deciding.typed?.["kind"] === "taught as planned" ? undefined : deciding.typed;
  const busy = useNavigation().state !== "idle";
  const [kind, setKind] = useState(typed?.["kind"]);
  return (
    <details className="no-print mt-2" open={typed !== undefined}>
      <summary className="w-fit cursor-pointer py-1 font-bold">Record a decision</summary>
      <KeptForm draft="decide" method="post" action={action} className="mt-2 grid max-w-2xl gap-3" noValidate>
        <FormProblem>{deciding.problems["form"]}</FormProblem>
        <DecisionFields deciding={{ ...deciding, typed }} raisedBy="edit in Set-up" chosen={setKind} />
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
