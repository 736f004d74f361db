import { ChoiceField, TextField } from "../../goal-set-up/fields.tsx";

export function FluencyFields() {
  return (
    <div className="grid grid-cols-2 gap-3">
      <ChoiceField
        name="counted"
        label="Counted"
        options={[
          ["words", "words"],
          ["letters", "letters"],
          ["sounds", "sounds"],
          ["digits", "digits"],
        ]}
      />
      <TextField name="length" label="One reading lasts" hint="1 min unless set." />
    </div>
  );
}
