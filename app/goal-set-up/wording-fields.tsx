import type { Span } from "#core/goal-wording/working-text.ts";
import { dateBlank } from "#core/goal-wording/blanks.ts";
import { Field } from "#app/ui/field.tsx";
import { TextBox, TextField, useSetUp } from "./fields.tsx";
import { blankField, blanksOf } from "./read-set-up.ts";
import { Underlined } from "./underlined.tsx";

/** The exact wording, and what was read from it. */
export function WordingFields({
  wording,
  spans,
  saysNothing,
  hint,
}: {
  wording: string;
  spans: readonly Span[];
  saysNothing: boolean;
  hint: string;
}) {
  return (
    <>
      <TextBox name="wording" label="Wording" rows={4} hint={hint} />
      {spans.length > 0 ? (
        <p
          className="-mt-2 max-w-[44rem] font-serif leading-relaxed break-words"
          dir="auto"
          aria-label="What was read"
        >
          <Underlined text={wording} spans={spans} />
        </p>
      ) : saysNothing ? (
        <p className="-mt-2 text-fine text-soft">
          The wording says nothing of a measure or criterion: the fields below ask for them.
        </p>
      ) : null}
      <button className="btn btn-plain without-scripts w-fit" name="intent" value="read">
        Read the wording
      </button>
    </>
  );
}

/** One field for each blank of the wording. */
export function BlankFields() {
  const { values, set } = useSetUp();
  const blanks = blanksOf(values);
  if (blanks.length === 0) return null;
  return (
    <div
      role="group"
      aria-label="Blanks of the wording"
      className="grid grid-cols-3 gap-3 max-sm:grid-cols-1"
    >
      {blanks.map((name) =>
        name === dateBlank ? (
          // The same as the due date further down, which is the one that is sent.
          <Field
            key={name}
            label={`{${name}}`}
            type="date"
            value={values["dueOn"] ?? ""}
            onChange={({ target }) => set("dueOn", target.value)}
            hint="The due date."
          />
        ) : (
          <TextField key={name} name={blankField(name)} label={`{${name}}`} />
        ),
      )}
    </div>
  );
}

/** Short name and area, as the lists of goals have them. */
export function TitleFields({ areas, children }: { areas: readonly string[]; children?: React.ReactNode }) {
  return (
    <>
      <div className="grid grid-cols-[5.5rem_1fr_1fr] gap-3 max-sm:grid-cols-2">
        {children}
        <TextField
          name="title"
          label="Short name"
          className={`max-sm:order-first max-sm:col-span-2 ${children ? "" : "col-span-2"}`}
        />
        <TextField name="area" label="Area" list="areas" />
      </div>
      <datalist id="areas">
        {areas.map((area) => (
          <option key={area} value={area} />
        ))}
      </datalist>
    </>
  );
}
