import { memo, useCallback, useRef } from "react";
import type { ChecklistMeasure } from "#core/measures/checklist/checklist.ts";
import type { OutcomesMeasure } from "#core/measures/outcomes/outcomes.ts";
import { criterionName, levelWords, type RubricMeasure } from "#core/measures/rubric/rubric.ts";
import type { SkillsMeasure } from "#core/measures/skills/skills.ts";
import type { StepsMeasure } from "#core/measures/steps/steps.ts";
import { Field } from "#app/ui/field.tsx";
import { ladderMarks } from "#core/measures/ladder.ts";
import type { PanelProps } from "./panel.ts";

interface Option {
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
  options: readonly Option[];
  value: string;
  set: PanelProps<unknown>["set"];
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
function MarkRows({
  rows,
  values,
  set,
  problem,
  rest,
}: {
  rows: readonly Omit<RowProps, "value" | "set">[];
  values: PanelProps<unknown>["values"];
  set: PanelProps<unknown>["set"];
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
        <p role="status" aria-live="polite">
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

function ladderOptions(measure: { levels: string[]; misses: string[] }): Option[] {
  return ladderMarks(measure).map((label, index) => ({
    value: String(index),
    label,
    miss: index >= measure.levels.length,
  }));
}

export function SkillsPanel({ measure, values, set, problems }: PanelProps<SkillsMeasure>) {
  const options = ladderOptions(measure);
  const rows = measure.skills.map((label, index) => ({ name: `mark.${index}`, label, options }));
  return <MarkRows rows={rows} values={values} set={set} problem={problems["marks"]} />;
}

export function StepsPanel({ measure, values, set, problems }: PanelProps<StepsMeasure>) {
  const options = ladderOptions(measure);
  const rows = measure.steps.map((label, index) => ({
    name: `mark.${index}`,
    label,
    order: index + 1,
    options,
  }));
  return <MarkRows rows={rows} values={values} set={set} problem={problems["marks"]} />;
}

const knownOptions: Option[] = [
  { value: "1", label: "known" },
  { value: "0", label: "not yet", miss: true },
];

export function ChecklistPanel({ measure, values, set, problems }: PanelProps<ChecklistMeasure>) {
  const rows = measure.items.map((label, index) => ({
    name: `item.${index}`,
    label,
    options: knownOptions,
  }));
  return (
    <div className="mark-columns">
      <MarkRows
        rows={rows}
        values={values}
        set={set}
        problem={problems["known"] ?? problems["probed"]}
        rest={{ label: "Mark the rest as not yet", value: "0" }}
      />
      <p className="text-fine text-soft">What is left open was not probed and does not count.</p>
    </div>
  );
}

export function RubricPanel({ measure, values, set, problems }: PanelProps<RubricMeasure>) {
  const rows = measure.criteria.map((criterion, index) => ({
    name: `level.${index}`,
    label: criterionName(criterion),
    options: Array.from({ length: criterion.max + 1 }, (_, level) => ({
      value: String(level),
      label: String(level),
      hint: levelWords(criterion, level),
    })),
  }));
  return (
    <div className="grid gap-3">
      <MarkRows rows={rows} values={values} set={set} problem={problems["levels"]} />
      <Field
        label="Rated by"
        name="rater"
        maxLength={100}
        value={values["rater"] ?? ""}
        onChange={({ target }) => set("rater", target.value)}
        hint="Only if someone else scored it. Raters are kept apart."
      />
    </div>
  );
}

export function OutcomesPanel({ measure, values, set, problems }: PanelProps<OutcomesMeasure>) {
  const row = {
    name: "outcome",
    label: "How it ended",
    options: [
      ...measure.outcomes.map(({ id, label, credit }, index) => ({
        value: String(index),
        label: label ?? id,
        hint: `${credit} % credit`,
      })),
      { value: "other", label: "something else", miss: true, hint: "noted, not scored" },
    ],
  };
  return (
    <div className="grid gap-3">
      <MarkRows rows={[row]} values={values} set={set} problem={problems["outcome"]} />
      {values["outcome"] === "other" || problems["note"] ? (
        <Field
          label="What happened instead"
          name="outcomeNote"
          maxLength={500}
          value={values["outcomeNote"] ?? ""}
          onChange={({ target }) => set("outcomeNote", target.value)}
          problem={problems["note"]}
        />
      ) : null}
    </div>
  );
}
