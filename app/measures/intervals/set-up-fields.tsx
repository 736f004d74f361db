import { ChoiceField, TextField } from "../../goal-set-up/fields.tsx";

export function IntervalsFields() {
  return (
    <div className="grid grid-cols-3 gap-3 max-sm:grid-cols-1">
      <ChoiceField
        name="method"
        label="Method"
        options={[
          ["momentary", "momentary time sampling"],
          ["partial", "partial interval"],
          ["whole", "whole interval"],
        ]}
      />
      <TextField name="interval" label="Each lasts" hint="10 s, 1 min." />
      <TextField name="planned" label="How many" numeric />
    </div>
  );
}
