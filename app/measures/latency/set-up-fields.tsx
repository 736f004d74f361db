import { ChoiceField, TextField, useSetUp } from "../../goal-set-up/fields.tsx";

export function LatencyFields() {
  const { values } = useSetUp();
  return (
    <div className="grid grid-cols-2 gap-3">
      <ChoiceField
        name="report"
        label="Reported"
        options={[
          ["within", "how often within a time"],
          ["median", "the median delay"],
          ["mean", "the mean delay"],
        ]}
      />
      {(values["report"] || "within") === "within" ? (
        <TextField name="within" label="In time is within" hint="30 s, 2 min." />
      ) : null}
    </div>
  );
}
