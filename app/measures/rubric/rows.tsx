import { criterionName, levelWords, type RubricMeasure } from "#core/measures/rubric/rubric.ts";
import { Field } from "#app/ui/field.tsx";
import { type FieldsProps, MarkRows } from "../rows.tsx";

export function RubricRows({ measure, values, set, problems }: FieldsProps & { measure: RubricMeasure }) {
  const rows = measure.criteria.map((criterion, index) => ({
    name: `level.${index}`,
    label: criterionName(criterion),
    options: Array.from({ length: criterion.max + 1 }, (_, level) => ({
      value: String(level),
      label: String(level),
      hint: levelWords(criterion, level),
    })),
  }));
  return (
    <div className="grid gap-3">
      <MarkRows rows={rows} values={values} set={set} problem={problems["levels"]} />
      <Field
        label="Rated by"
        name="rater"
        maxLength={100}
        value={values["rater"] ?? ""}
        onChange={({ target }) => set("rater", target.value)}
        hint="Only if someone else scored it. Each rater has a separate line."
      />
    </div>
  );
}
