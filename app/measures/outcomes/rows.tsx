import type { OutcomesMeasure } from "#core/measures/outcomes/outcomes.ts";
import { otherOutcome } from "#core/measures/outcomes/other-outcome.ts";
import { Field } from "#app/ui/field.tsx";
import { type FieldsProps, MarkRows } from "../rows.tsx";

export function OutcomesRows({ measure, values, set, problems }: FieldsProps & { measure: OutcomesMeasure }) {
  const row = {
    name: "outcome",
    label: "How it ended",
    options: [
      ...measure.outcomes.map(({ id, label, credit }, index) => ({
        value: String(index),
        label: label ?? id,
        hint: `${credit}% credit`,
      })),
      { value: otherOutcome, label: "something else", miss: true, hint: "noted, not scored" },
    ],
  };
  return (
    <div className="grid gap-3">
      <MarkRows rows={[row]} values={values} set={set} problem={problems["outcome"]} />
      {values["outcome"] === otherOutcome || problems["note"] ? (
        <Field
          label="What happened instead"
          name="outcomeNote"
          maxLength={500}
          value={values["outcomeNote"] ?? ""}
          onChange={({ target }) => set("outcomeNote", target.value)}
          problem={problems["note"]}
        />
      ) : null}
    </div>
  );
}
