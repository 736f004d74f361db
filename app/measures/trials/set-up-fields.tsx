import { TextField } from "../../goal-set-up/fields.tsx";

export function TrialsFields() {
  return <TextField name="planned" label="Opportunities in one probe" numeric className="w-56" />;
}
