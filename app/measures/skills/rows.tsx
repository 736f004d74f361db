import type { SkillsMeasure } from "#core/measures/skills/skills.ts";
import { type FieldsProps, ladderOptions, MarkRows } from "../rows.tsx";

export function SkillsRows({ measure, values, set, problems }: FieldsProps & { measure: SkillsMeasure }) {
  const options = ladderOptions(measure);
  const rows = measure.skills.map((label, index) => ({ name: `mark.${index}`, label, options }));
  return <MarkRows rows={rows} values={values} set={set} problem={problems["marks"]} />;
}
