import { ChoiceField, TextField } from "../../goal-set-up/fields.tsx";

export function RunningTotalFields() {
  return (
    <div className="grid grid-cols-3 gap-3 max-sm:grid-cols-1">
      <TextField name="target" label="Target" numeric />
      <TextField name="unit" label="Of what" hint="Minutes, books, hours." />
      <ChoiceField
        name="startsAgain"
        label="Starts again"
        options={[
          ["", "never"],
          ["week", "each week"],
          ["month", "each month"],
        ]}
      />
    </div>
  );
}
