import { TextField } from "../../goal-set-up/fields.tsx";
import { LadderFields, type MeasureFieldsProps } from "../ladder-fields.tsx";

export function PromptLevelsFields({ ladders }: MeasureFieldsProps) {
  return (
    <>
      <LadderFields ladders={ladders} misses />
      <TextField name="planned" label="Opportunities in one probe" numeric className="w-56" />
    </>
  );
}
