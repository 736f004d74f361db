import type { StepsMeasure } from "#core/measures/steps/steps.ts";
import { type FieldsProps, ladderOptions, MarkRows } from "../rows.tsx";

export function StepsRows({ measure, values, set, problems }: FieldsProps & { measure: StepsMeasure }) {
  const options = ladderOptions(measure);
  const rows = measure.steps.map((label, index) => ({
    name: `mark.${index}`,
    label,
    order: index + 1,
    options,
  }));
  return <MarkRows rows={rows} values={values} set={set} problem={problems["marks"]} />;
}
