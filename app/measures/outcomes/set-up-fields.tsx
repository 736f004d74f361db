import { TextField, useSetUp } from "../../goal-set-up/fields.tsx";
import { KeptId, useRows } from "../set-up-rows.tsx";

export function OutcomesFields() {
  const { problems } = useSetUp();
  return (
    <div className="grid gap-3">
      {useRows("outcome").map((row) => (
        <div key={row} className="grid grid-cols-[1fr_7rem] gap-3">
          <KeptId name={`outcome.${row}.id`} />
          <TextField name={`outcome.${row}.label`} label={`Outcome ${row + 1}`} />
          <TextField name={`outcome.${row}.credit`} label="Credit, %" numeric />
        </div>
      ))}
      <p className="text-fine text-soft">“Something else” is always there: noted in words, not scored.</p>
      {problems["outcomes"] ? (
        <p role="alert" className="text-fine font-bold text-error">
          {problems["outcomes"]}
        </p>
      ) : null}
    </div>
  );
}
