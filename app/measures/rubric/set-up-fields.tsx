import { TextBox, TextField, useSetUp } from "../../goal-set-up/fields.tsx";
import { KeptId, useRows } from "../set-up-rows.tsx";

export function RubricFields() {
  const { problems } = useSetUp();
  return (
    <div className="grid gap-3">
      {useRows("criterion").map((row) => (
        <div key={row} className="grid grid-cols-[1fr_5rem_1.4fr] gap-3 max-sm:grid-cols-[1fr_5rem]">
          <KeptId name={`criterion.${row}.id`} />
          <TextField name={`criterion.${row}.label`} label={`Criterion ${row + 1}`} />
          <TextField name={`criterion.${row}.max`} label="Highest" numeric />
          <TextBox
            name={`criterion.${row}.levels`}
            label="Wording of each level"
            rows={2}
            className="max-sm:col-span-2"
            {...(row === 0 ? { hint: "One per line, from the lowest; may be left empty." } : {})}
          />
        </div>
      ))}
      {problems["criteria"] ? (
        <p role="alert" className="text-fine font-bold text-error">
          {problems["criteria"]}
        </p>
      ) : null}
    </div>
  );
}
