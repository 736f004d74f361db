import { TextBox } from "../../goal-set-up/fields.tsx";

export function ChecklistFields() {
  return (
    <TextBox
      name="parts"
      label="The items"
      hint="One per line: letters, words, tools. A pasted list is fine."
      rows={7}
      maxLength={70_000}
    />
  );
}
