import type { Measure } from "#core/measures/measure.ts";
import { Field } from "#app/ui/field.tsx";
import { entryFieldsOf } from "./entry-forms.ts";
import { isInRows, RowsOf } from "./rows-of.tsx";
import type { FieldsProps } from "./rows.tsx";

/** The fields of an entry, made for its measure: they record it where there are no scripts, and correct it. */
export function EntryFields({ measure, ...panel }: FieldsProps & { measure: Measure }) {
  return (
    <div className="entry-panel">
      {isInRows(measure) ? (
        <RowsOf measure={measure} {...panel} />
      ) : (
        <TypedFields measure={measure} {...panel} />
      )}
    </div>
  );
}

function TypedFields({ measure, values, set, problems }: FieldsProps & { measure: Measure }) {
  const fields = entryFieldsOf(measure) ?? [];
  const three = fields.filter(({ wide, as }) => !wide && !as).length === 3;
  return (
    <div className={`grid gap-3 ${three ? "grid-cols-3 max-sm:grid-cols-2" : "grid-cols-2"}`}>
      {fields.map(({ name, label, hint, problemsOf = [name], numeric, wide, as }) => {
        const value = values[name] ?? "";
        if (as === "hidden") return <input key={name} type="hidden" name={name} value={value} />;
        return (
          <div key={name} className={wide ? "col-span-full" : ""}>
            {as === "tick" ? (
              <label className="flex min-h-11 items-center gap-2 text-[0.9375rem]">
                <input
                  type="checkbox"
                  className="size-5 accent-primary"
                  name={name}
                  value="yes"
                  checked={value === "yes"}
                  onChange={({ target }) => set(name, target.checked ? "yes" : "")}
                />
                {label}
              </label>
            ) : (
              <Field
                label={label}
                name={name}
                {...(numeric ? { inputMode: "numeric" as const } : {})}
                maxLength={2000}
                value={value}
                onChange={({ target }) => set(name, target.value)}
                problem={problemsOf.map((field) => problems[field]).find(Boolean)}
                {...(hint ? { hint } : {})}
              />
            )}
          </div>
        );
      })}
    </div>
  );
}
