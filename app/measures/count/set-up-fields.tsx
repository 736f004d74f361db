import { ChoiceField, TextField } from "../../goal-set-up/fields.tsx";

export function CountFields() {
  return (
    <div className="grid grid-cols-2 gap-3">
      <ChoiceField
        name="per"
        label="Reported"
        options={[
          ["observation", "as a count"],
          ["minute", "per minute observed"],
          ["hour", "per hour observed"],
        ]}
      />
      <TextField name="counted" label="What is counted" hint="In the plural: call-outs, turns." />
    </div>
  );
}
