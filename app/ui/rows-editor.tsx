import { type ReactNode, useState } from "react";
import { weekdayName } from "#core/dates/week.ts";
import { TimeInput } from "./time-input.tsx";
import { rowName, rowsIn, type TypedRow } from "./typed-rows.ts";

export interface RowField {
  name: string;
  label: string;
  /** `weekdays`: seven ticks, named `day1` (Monday) … `day7`. */
  type: "text" | "date" | "time" | "weekdays";
  /** Width of its column, as in `grid-template-columns`. */
  className?: string;
}

/** How many rows stand empty for what comes next; without scripts that is all one can add at a time. */
const blankRows = 1;

/**
 * Rows of one shape in a form, such as closures or periods: each field named `prefix.index.field`. A row is taken out by
 * emptying it; rows left empty are not kept.
 */
export function RowsEditor({
  prefix,
  title,
  called,
  fields,
  rows,
  typed,
  problems,
  blank = {},
  weekdays = [1, 2, 3, 4, 5, 6, 7],
  hint,
  children,
}: {
  prefix: string;
  title: string;
  /** "closure": what one row is. */
  called: string;
  fields: readonly RowField[];
  /** What stands: field by field, as typed. */
  rows: readonly TypedRow[];
  /** What was typed when the form came back with a problem. */
  typed?: Readonly<Record<string, string>> | undefined;
  problems: Readonly<Record<string, string>>;
  /** What an empty row begins with. */
  blank?: TypedRow;
  /** Which weekdays can be ticked. */
  weekdays?: readonly number[];
  hint?: string;
  children?: ReactNode;
}) {
  const shown = typed ? rowsIn(typed, prefix).map(({ row }) => row) : rows;
  const [more, setMore] = useState(0);
  const [gone, setGone] = useState<readonly number[]>([]);
  // A form that comes back has its rows numbered anew: the fields begin again from what was typed.
  const [shownFor, setShownFor] = useState({ typed, rows, times: 0 });
  if (shownFor.typed !== typed || JSON.stringify(shownFor.rows) !== JSON.stringify(rows)) {
    setShownFor({ typed, rows, times: shownFor.times + 1 });
    setMore(0);
    setGone([]);
  }
  const all = [...shown, ...Array.from({ length: (typed ? 0 : blankRows) + more }, () => blank)];
  return (
    <fieldset className="min-w-0">
      <legend className="font-serif text-[1.15rem] font-semibold">{title}</legend>
      {hint ? <p className="text-fine text-soft">{hint}</p> : null}
      {children}
      <ol className="mt-2 grid gap-2">
        {all.map((row, index) => {
          if (gone.includes(index)) return null;
          const name = (field: string) => rowName(prefix, index, field);
          const wrong = fields.flatMap((field) => problems[name(field.name)] ?? []);
          const said = `${called} ${index + 1}`;
          const given = (field: RowField) => ({
            name: name(field.name),
            className: "input w-full",
            "aria-invalid": problems[name(field.name)] ? true : undefined,
            "aria-describedby": wrong.length > 0 ? `${prefix}-${index}-says` : undefined,
          });
          return (
            <li key={`${shownFor.times} ${index}`} className="grid gap-1">
              <div className="flex flex-wrap items-end gap-2 max-sm:border-b max-sm:border-base-300 max-sm:pb-2">
                {fields.map((field) =>
                  field.type === "weekdays" ? (
                    <span
                      key={field.name}
                      role="group"
                      aria-label={`${field.label} of ${said}`}
                      className="flex flex-wrap gap-0.5"
                    >
                      {weekdays.map((day) => (
                        <label key={day} className="day-tick" title={weekdayName(day)}>
                          <input
                            type="checkbox"
                            name={name(`day${day}`)}
                            defaultChecked={row[`day${day}`] === "on"}
                            aria-label={weekdayName(day)}
                          />
                          {weekdayName(day).slice(0, 2)}
                        </label>
                      ))}
                    </span>
                  ) : (
                    <label key={field.name} className={`min-w-0 ${field.className ?? ""}`}>
                      <span className={index === 0 ? "text-fine font-bold" : "sr-only"}>
                        {field.label}
                        <span className="sr-only"> of {said}</span>
                      </span>
                      {field.type === "time" ? (
                        <TimeInput {...given(field)} value={row[field.name] ?? ""} />
                      ) : (
                        <input
                          {...given(field)}
                          type={field.type}
                          dir={field.type === "text" ? "auto" : undefined}
                          maxLength={field.type === "text" ? 60 : undefined}
                          defaultValue={row[field.name] ?? ""}
                        />
                      )}
                    </label>
                  ),
                )}
                <button
                  type="button"
                  className="with-scripts grid size-10 cursor-pointer place-items-center rounded-lg text-xl text-soft hover:bg-base-200"
                  aria-label={`Remove ${said}`}
                  title="Remove"
                  onClick={() => setGone([...gone, index])}
                >
                  ×
                </button>
              </div>
              {wrong.length > 0 ? (
                <p id={`${prefix}-${index}-says`} className="text-fine font-bold text-error">
                  {wrong.join(" ")}
                </p>
              ) : null}
            </li>
          );
        })}
      </ol>
      <button
        type="button"
        className="btn btn-plain btn-sm with-scripts mt-2"
        onClick={() => setMore(more + 1)}
      >
        Another {called}
      </button>
    </fieldset>
  );
}
