import { ChoiceField } from "../../goal-set-up/fields.tsx";

export function DurationFields() {
  return (
    <ChoiceField
      name="report"
      label="Reported"
      className="w-72 max-w-full"
      options={[
        ["total", "all bouts together"],
        ["longest", "the longest bout"],
        ["mean", "a bout on average"],
        ["share", "share of the time observed"],
      ]}
    />
  );
}
