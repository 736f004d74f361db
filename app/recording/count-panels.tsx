import type { CountMeasure } from "#core/measures/count/count.ts";
import type { FluencyMeasure } from "#core/measures/fluency/fluency.ts";
import type { RunningTotalMeasure } from "#core/measures/running-total/running-total.ts";
import type { SupportsMeasure } from "#core/measures/supports/supports.ts";
import type { TrialsMeasure } from "#core/measures/trials/trials.ts";
import { Field } from "#app/ui/field.tsx";
import { clockTime } from "#core/words/read-time.ts";
import { ladderMarks } from "#core/measures/ladder.ts";
import type { PanelProps } from "./panel.ts";

/** A field of a panel, tied to its value. */
export function PanelField({
  name,
  label,
  panel,
  problem,
  hint,
  numeric = false,
}: {
  name: string;
  label: string;
  panel: Pick<PanelProps<unknown>, "values" | "set">;
  problem?: string | undefined;
  hint?: string;
  numeric?: boolean;
}) {
  return (
    <Field
      label={label}
      name={name}
      {...(numeric ? { inputMode: "numeric" as const } : {})}
      maxLength={2000}
      value={panel.values[name] ?? ""}
      onChange={({ target }) => panel.set(name, target.value)}
      problem={problem}
      {...(hint ? { hint } : {})}
    />
  );
}

export function TrialsPanel(panel: PanelProps<TrialsMeasure>) {
  const { problems } = panel;
  return (
    <div className="grid grid-cols-2 gap-3">
      <PanelField name="correct" label="Correct" numeric panel={panel} problem={problems["correct"]} />
      <PanelField name="attempted" label="Out of" numeric panel={panel} problem={problems["attempted"]} />
    </div>
  );
}

const countAt = (text: string | undefined) => (/^\d{1,6}$/.test(text ?? "") ? Number(text) : 0);

/** One button a level: each touch is one opportunity; what is left of the planned number is always in view. */
export function SupportsPanel({ measure, values, set, problems }: PanelProps<SupportsMeasure>) {
  const marks = ladderMarks(measure);
  const total = marks.reduce((sum, _, index) => sum + countAt(values[`count.${index}`]), 0);
  const sequence = (values["sequence"] ?? "").split(",").filter(Boolean);
  const add = (index: number) => {
    set(`count.${index}`, (before) => String(countAt(before) + 1));
    set("sequence", (before) => [before, String(index)].filter(Boolean).join(","));
  };
  const undo = () => {
    const last = sequence.at(-1);
    if (last === undefined) return;
    set(`count.${last}`, String(Math.max(0, countAt(values[`count.${last}`]) - 1)));
    set("sequence", sequence.slice(0, -1).join(","));
  };
  const left = (measure.planned ?? 0) - total;
  return (
    <div>
      <input type="hidden" name="sequence" value={values["sequence"] ?? ""} />
      <p className="flex items-baseline gap-2">
        <span className="font-serif text-[2rem] leading-none font-semibold">{total}</span>
        <span>{total === 1 ? "opportunity" : "opportunities"}</span>
        {measure.planned ? (
          <span className="ml-auto text-fine text-soft" role="status">
            {left > 0
              ? `${left} left of ${measure.planned}`
              : left === 0
                ? `all ${measure.planned} marked`
                : `${-left} more than the ${measure.planned} planned`}
          </span>
        ) : null}
      </p>
      <ul className="mt-2 grid gap-2">
        {marks.map((mark, index) => (
          <li key={mark} className="grid grid-cols-[1fr_4.5rem] gap-2">
            <button
              type="button"
              className={`mark with-scripts w-full justify-items-start text-left ${index >= measure.levels.length ? "mark-miss" : ""}`}
              onClick={() => add(index)}
            >
              <span dir="auto">
                <span className="mr-2 text-fine opacity-70">{index + 1}</span>
                {mark}
              </span>
            </button>
            <input
              className="input h-full w-full text-center"
              name={`count.${index}`}
              inputMode="numeric"
              aria-label={`${mark}, how many`}
              value={values[`count.${index}`] ?? ""}
              placeholder="0"
              onChange={({ target }) => set(`count.${index}`, target.value)}
            />
          </li>
        ))}
      </ul>
      <button
        type="button"
        className="btn btn-plain with-scripts mt-3 h-11"
        disabled={sequence.length === 0}
        onClick={undo}
      >
        Undo
      </button>
      {problems["counts"] || problems["sequence"] ? (
        <p role="alert" className="text-fine font-bold text-error">
          {problems["counts"] ?? problems["sequence"]}
        </p>
      ) : null}
    </div>
  );
}

export function CountPanel(panel: PanelProps<CountMeasure>) {
  const { measure, values, set, problems } = panel;
  const count = countAt(values["count"]);
  const what = measure.counted ?? "times";
  return (
    <div className="grid gap-3">
      <div className="with-scripts grid grid-cols-[1fr_2fr] gap-2.5">
        <button
          type="button"
          className="pad cursor-pointer border-base-300 bg-raised"
          onClick={() => set("count", (before) => String(Math.max(0, countAt(before) - 1)))}
          aria-label="One less"
        >
          – 1
        </button>
        <button
          type="button"
          className="pad cursor-pointer border-data bg-data text-base-100"
          onClick={() => set("count", (before) => String(countAt(before) + 1))}
        >
          <span className="font-serif text-3xl" aria-hidden="true">
            {count}
          </span>
          <span>+ 1</span>
        </button>
      </div>
      <div className="grid grid-cols-2 gap-3">
        <PanelField
          name="count"
          label={`How many ${what}`}
          numeric
          panel={panel}
          problem={problems["count"]}
        />
        <PanelField
          name="observed"
          label="Observed for"
          panel={panel}
          problem={problems["observedSeconds"]}
          hint={measure.per === "observation" ? "May be left empty; 20 min or 4:10." : "20 min or 4:10."}
        />
      </div>
    </div>
  );
}

export function FluencyPanel(panel: PanelProps<FluencyMeasure>) {
  const { measure, problems } = panel;
  const what = measure.counted ?? "words";
  return (
    <div className="grid grid-cols-3 gap-3 max-sm:grid-cols-2">
      <PanelField
        name="attempted"
        label={`${what.charAt(0).toUpperCase()}${what.slice(1)} attempted`}
        numeric
        panel={panel}
        problem={problems["attempted"]}
      />
      <PanelField name="errors" label="Errors" numeric panel={panel} problem={problems["errors"]} />
      <PanelField
        name="time"
        label="In"
        panel={panel}
        problem={problems["seconds"]}
        hint={`${clockTime(measure.plannedSeconds ?? 60)} as planned, or 45 s.`}
      />
    </div>
  );
}

export function RunningTotalPanel(panel: PanelProps<RunningTotalMeasure>) {
  const { measure, problems } = panel;
  const { unit } = measure;
  return (
    <PanelField
      name="amount"
      label={`${unit.charAt(0).toUpperCase()}${unit.slice(1)} to add`}
      panel={panel}
      problem={problems["amount"]}
      hint={`The target is ${measure.target} ${unit}${measure.startsAgain ? ` each ${measure.startsAgain}` : ""}.`}
    />
  );
}
