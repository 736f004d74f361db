import { ChoiceField, TextBox } from "../../goal-set-up/fields.tsx";
import { LadderFields, type MeasureFieldsProps } from "../ladder-fields.tsx";

export function StepsFields({ ladders }: MeasureFieldsProps) {
  return (
    <>
      <TextBox
        name="parts"
        label="The steps in their order"
        hint="One per line, as the task analysis has them."
        rows={7}
        maxLength={70_000}
      />
      <ChoiceField
        name="teaching"
        label="Taught by"
        options={[
          ["", "Not set"],
          ["forward", "forward chaining: the first open step next"],
          ["backward", "backward chaining: the last open step next"],
          ["total-task", "total task: every step each time"],
        ]}
      />
      <LadderFields ladders={ladders} misses={false} />
    </>
  );
}
