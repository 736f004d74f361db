import { type ReactNode, useId } from "react";
import { weekdayName } from "#core/dates/week.ts";
import { timeOfDay } from "#core/words/dates.ts";
import { type Line, useWrittenRows } from "#app/kit/use-written-rows.ts";
import type { Problems } from "./form-data.ts";
import { say } from "./say.ts";
import { TimeInput } from "./time-input.tsx";
import { rowName, type TypedRow } from "./typed-rows.ts";
import { RowTakenOut } from "./written-list.tsx";

export interface RowField {
  name: string;
  label: string;
  /** `weekdays`: seven ticks, named `day1` (Monday) … `day7`. */
  type: "text" | "date" | "time" | "weekdays";
  /** Width of its column, as in `grid-template-columns`. */
  className?: string;
}

interface RowsEditorProps {
  prefix: string;
  title: string;
  /** "closure": what one row is. */
  called: string;
  fields: readonly RowField[];
  /** What stands: field by field, as typed. */
  rows: readonly TypedRow[];
  /** What was typed when the form came back with a problem. */
  typed?: Readonly<Record<string, string>> | undefined;
  problems: Problems;
  /** What an empty row begins with. */
  blank?: TypedRow;
  /** Which weekdays can be ticked. */
  weekdays?: readonly number[];
  hint?: string;
  children?: ReactNode;
}

/**
 * Rows of one shape in a form, such as closures or periods: each field named `prefix.index.field`. An empty row always stands at the
 * end; a row is taken out by its cross, or by emptying it.
 */
export function RowsEditor({
  prefix,
  title,
  called,
  fields,
  rows: there,
  typed,
  problems,
  blank = {},
  weekdays = [1, 2, 3, 4, 5, 6, 7],
  hint,
  children,
}: RowsEditorProps) {
  const times = fields.filter(({ type }) => type === "time").map(({ name }) => name);
  const rows = useWrittenRows(prefix, {
    rows: there.map((row) => ({
      ...row,
      ...Object.fromEntries(times.map((name) => [name, timeOfDay(row[name] ?? "")])),
    })),
    ...{ blank, typed, problems },
  });
  const nameOf = (row: TypedRow, at = 0) => row[fields[0]?.name ?? ""] || `${called} ${at + 1}`;
  return (
    <fieldset className="min-w-0" {...rows.around}>
      <legend className="font-serif text-[1.15rem] font-semibold">{title}</legend>
      {hint ? <p className="text-fine text-soft">{hint}</p> : null}
      {children}
      <ol className="mt-2 grid gap-1">
        {rows.lines.map((line, at) => (
          <EditedRow
            key={line.key}
            {...{ line, at, prefix, called, fields, weekdays }}
            isBlank={rows.isBlank(line.row)}
            set={(part) => rows.set(line.key, part)}
            remove={() => {
              rows.remove(line.key);
              say(`${nameOf(line.row, at)} is taken out`);
            }}
          />
        ))}
      </ol>
      <RowTakenOut rows={rows} nameOf={(row) => nameOf(row)} />
    </fieldset>
  );
}

interface EditedRowProps extends Required<
  Pick<RowsEditorProps, "prefix" | "called" | "fields" | "weekdays">
> {
  line: Line;
  at: number;
  isBlank: boolean;
  set: (part: TypedRow) => void;
  remove: () => void;
}

function EditedRow({ line, at, prefix, called, fields, weekdays, isBlank, set, remove }: EditedRowProps) {
  const { row, wrong } = line;
  const id = useId();
  const name = (field: string) => rowName(prefix, at, field);
  const problems = fields.flatMap((field) => wrong[field.name] ?? []);
  const said = `${called} ${at + 1}`;
  return (
    <li className="edited-row">
      <div className="flex flex-wrap items-end gap-x-3 gap-y-1">
        {fields.map((field) => {
          if (field.type === "weekdays")
            return (
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
                      checked={row[`day${day}`] === "on"}
                      onChange={({ target }) => set({ [`day${day}`]: target.checked ? "on" : "" })}
                      aria-label={weekdayName(day)}
                    />
                    {weekdayName(day).slice(0, 2)}
                  </label>
                ))}
              </span>
            );
          const given = {
            name: name(field.name),
            className: "written",
            value: row[field.name] ?? "",
            "aria-invalid": wrong[field.name] ? true : undefined,
            "aria-describedby": problems.length > 0 ? id : undefined,
          } as const;
          return (
            <label key={field.name} className={`block min-w-0 ${field.className ?? ""}`}>
              <span className={at === 0 ? "text-fine font-bold" : "sr-only"}>
                {field.label}
                <span className="sr-only"> of {said}</span>
              </span>
              {field.type === "time" ? (
                <TimeInput {...given} onTyped={(text) => set({ [field.name]: text })} />
              ) : (
                <input
                  {...given}
                  type={field.type}
                  placeholder={isBlank && field === fields[0] ? `another ${called}` : undefined}
                  dir={field.type === "text" ? "auto" : undefined}
                  maxLength={field.type === "text" ? 60 : undefined}
                  onChange={({ target }) => set({ [field.name]: target.value })}
                />
              )}
            </label>
          );
        })}
        {isBlank ? (
          <span aria-hidden="true" className="size-10" />
        ) : (
          <button
            type="button"
            className="row-tool with-scripts"
            aria-label={`Remove ${said}`}
            title="Remove"
            onClick={remove}
          >
            ×
          </button>
        )}
      </div>
      {problems.length > 0 ? (
        <p id={id} className="text-fine font-bold text-error">
          {problems.join(" ")}
        </p>
      ) : null}
    </li>
  );
}
