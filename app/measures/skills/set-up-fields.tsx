import { TextBox } from "../../goal-set-up/fields.tsx";
import { LadderFields, type MeasureFieldsProps } from "../ladder-fields.tsx";

export function SkillsFields({ ladders }: MeasureFieldsProps) {
  return (
    <>
      <TextBox
        name="parts"
        label="The sub-skills"
        hint="One per line. Each is marked with one prompt level."
        rows={7}
        maxLength={70_000}
      />
      <LadderFields ladders={ladders} misses={false} />
    </>
  );
}
