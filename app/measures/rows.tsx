import { memo, useCallback, useRef } from "react";
import { ladderMarks } from "#core/measures/ladder.ts";
import type { Values } from "./entry-form.ts";

/** What the fields of an entry are given: what stands in them, how to change that, and what is wrong. */
export interface FieldsProps {
  values: Values;
  /** A function makes the new value of what stands at that moment: two touches between two paints are two marks. */
  set: (name: string, value: string | ((before: string) => string)) => void;
  /** Problems by the field of the entry they are about. */
  problems: Readonly<Record<string, string>>;
}

export interface RowOption {
  value: string;
  label: string;
  /** A miss looks unlike a level. */
  miss?: boolean;
  hint?: string | undefined;
}

interface RowProps {
  name: string;
  label: string;
  order?: number;
  options: readonly RowOption[];
  value: string;
  set: FieldsProps["set"];
}

/** One row of marks: a name and one choice, which a second touch takes back. */
const MarkRow = memo(function MarkRow({ name, label, order, options, value, set }: RowProps) {
  return (
    <fieldset className="mark-row" data-row={name} data-open={value === "" || undefined}>
      <legend className="contents">
        <span className="mark-name" dir="auto">
          {order === undefined ? null : <span className="mr-1.5 text-soft">{order}</span>}
          {label}
        </span>
      </legend>
      <div className="mark-options">
        {options.map((option, index) => (
          <label key={option.value} className={`mark ${option.miss ? "mark-miss" : ""}`} title={option.hint}>
            <input
              type="radio"
              name={name}
              value={option.value}
              checked={value === option.value}
              className="mark-input"
              data-key={index + 1}
              onChange={() => set(name, option.value)}
              onClick={() => {
                if (value === option.value) set(name, "");
              }}
            />
            <span>{option.label}</span>
            {option.hint ? <span className="mark-hint">{option.hint}</span> : null}
          </label>
        ))}
      </div>
    </fieldset>
  );
});

/** Rows of marks by touch or by keys: a digit marks the row in focus and the next one is ready. */
export function MarkRows({
  rows,
  values,
  set,
  problem,
  rest,
}: {
  rows: readonly Omit<RowProps, "value" | "set">[];
  values: Values;
  set: FieldsProps["set"];
  problem: string | undefined;
  /** What marks every row that is still open, if something may. */
  rest?: { label: string; value: string };
}) {
  const list = useRef<HTMLDivElement>(null);
  const open = rows.filter(({ name }) => !values[name]);
  const onKeyDown = useCallback((event: React.KeyboardEvent) => {
    const digit = /^[1-9]$/.test(event.key) && !event.ctrlKey && !event.metaKey && !event.altKey;
    const row = (event.target as Element).closest?.("[data-row]");
    if (!row || (!digit && event.key !== "Enter")) return;
    if ((event.target as HTMLInputElement).type !== "radio") return;
    event.preventDefault();
    if (digit) row.querySelector<HTMLInputElement>(`[data-key="${event.key}"]`)?.click();
    row.nextElementSibling?.querySelector<HTMLInputElement>("input")?.focus();
  }, []);
  return (
    <div>
      <div ref={list} className="mark-rows" onKeyDown={onKeyDown}>
        {rows.map((row) => (
          <MarkRow key={row.name} {...row} value={values[row.name] ?? ""} set={set} />
        ))}
      </div>
      <div className="mt-2 flex min-h-8 flex-wrap items-center gap-x-4 text-fine text-soft">
        <p>
          {open.length === 0
            ? "All marked."
            : open.length === rows.length
              ? "Nothing marked yet."
              : `${open.length} of ${rows.length} still open.`}
        </p>
        {rest && open.length > 0 && open.length < rows.length ? (
          <button
            type="button"
            className="with-scripts link min-h-8"
            onClick={() => open.forEach(({ name }) => set(name, rest.value))}
          >
            {rest.label}
          </button>
        ) : null}
      </div>
      {problem ? (
        <p role="alert" className="text-fine font-bold text-error">
          {problem}
        </p>
      ) : null}
    </div>
  );
}

export const ladderOptions = (measure: { levels: string[]; misses: string[] }): RowOption[] =>
  ladderMarks(measure).map((label, index) => ({
    value: String(index),
    label,
    miss: index >= measure.levels.length,
  }));
