import { purposes } from "#core/criteria/criterion.ts";
import { countsNeeded } from "#core/criteria/criterion-words.ts";
import { plannedOpportunities } from "#core/measures/planned-opportunities.ts";
import { detailsOf } from "#core/measures/details-of.ts";
import { type Measure, unitOf } from "#core/measures/measure.ts";
import { readFieldNumber } from "#app/measures/set-up-form.ts";
import type { SetUpValues } from "./set-up-values.ts";
import { ChoiceField, FromWording, TextBox, TextField, Tick, useSetUp } from "./fields.tsx";

function unitHint(unit: string): string {
  if (unit === "percent") return "In percent.";
  if (unit === "seconds") return "10 min, 45 s or 4:10.";
  return unit === "count" ? "How many." : `In ${unit.replace(/^per /, "so many a ")}.`;
}

function countHint(measure: Measure, values: SetUpValues): string | null {
  const value = readFieldNumber(values["value"]);
  if (value === undefined) return null;
  const words = countsNeeded(
    value,
    values["direction"] === "decrease" ? "decrease" : "increase",
    plannedOpportunities(measure),
  );
  return words && `${words}.`;
}

/** What has to be reached, and how often. */
export function CriterionFields({ measure }: { measure: Measure | null }) {
  const { problems, values } = useSetUp();
  const unit = measure ? unitOf(measure) : "percent";
  const side = measure ? detailsOf(measure).sideFigures(measure) : [];
  const total = values["kind"] === "running-total";
  return (
    <>
      <div className="grid grid-cols-[9rem_10rem_1fr] gap-3 max-sm:grid-cols-2">
        {total ? null : (
          <>
            <ChoiceField
              name="direction"
              label="Reached at"
              options={[
                ["increase", "at least"],
                ["decrease", "at most"],
              ]}
            />
            <TextField
              name="value"
              label="Value"
              numeric
              hint={(measure && unit === "percent" && countHint(measure, values)) || unitHint(unit)}
            />
          </>
        )}
        <div className="max-sm:col-span-2">
          <p className="mb-1 text-fine font-bold" id="window-label">
            In how many of how many
          </p>
          <div className="flex flex-wrap items-center gap-2" role="group" aria-labelledby="window-label">
            <WindowNumber name="k" label="In how many" />
            <span>of</span>
            <WindowNumber name="n" label="Of how many" />
            <WindowUnit />
          </div>
          <p className={`mt-1 text-fine ${problems["window"] ? "font-bold text-error" : "text-soft"}`}>
            {problems["window"] ??
              (values["k"] || values["n"]
                ? "The last ones count."
                : "The wording does not say: if once is enough, 1 of 1.")}
          </p>
          <FromWording name="window" />
        </div>
      </div>
      {side.length > 0 ? (
        <div>
          <div className="grid grid-cols-[1fr_9rem] gap-3">
            <ChoiceField
              name="joined.figure"
              label="And also"
              options={[
                ["", "nothing else"],
                ...side.map(({ figure, label, better }): [string, string] => [
                  figure,
                  `${label} ${better === "increase" ? "at least" : "at most"}`,
                ]),
              ]}
            />
            {values["joined.figure"] ? <TextField name="joined.value" label="Value" numeric /> : null}
          </div>
          <FromWording name="joined" />
          {problems["joined"] ? (
            <p role="alert" className="text-fine font-bold text-error">
              {problems["joined"]}
            </p>
          ) : null}
        </div>
      ) : null}
      <details
        open={Boolean(values["confirm"] || values["settings"] || values["people"] || problems["confirm"])}
      >
        <summary className="w-fit cursor-pointer py-1 text-fine font-bold text-soft hover:text-base-content">
          Settings, people, purposes, and what to confirm
        </summary>
        <div className="mt-2 grid gap-4">
          <div className="grid grid-cols-3 gap-3 max-sm:grid-cols-1">
            <TextField name="settings" label="In how many settings" numeric hint="Leave blank for any." />
            <TextField name="people" label="With how many people" numeric hint="Leave blank for any." />
            <TextField
              name="minimumOpportunities"
              label="Opportunities at least"
              numeric
              hint="Points with fewer are shown, not judged."
            />
          </div>
          <div>
            <p className="text-fine font-bold">Entries that count</p>
            <div className="flex flex-wrap gap-x-5">
              {purposes.map((purpose) => (
                <Tick key={purpose} name={`purpose.${purpose}`} label={purpose} />
              ))}
            </div>
          </div>
          <TextBox
            name="confirm"
            label="For a person to confirm"
            rows={2}
            hint="What the wording requires and numbers cannot show, one per line."
          />
        </div>
      </details>
    </>
  );
}

function WindowNumber({ name, label }: { name: string; label: string }) {
  const { values, set, problems } = useSetUp();
  return (
    <input
      className="input w-14 text-center"
      name={name}
      aria-label={label}
      inputMode="numeric"
      autoComplete="off"
      value={values[name] ?? ""}
      onChange={({ target }) => set(name, target.value)}
      aria-invalid={problems["window"] ? true : undefined}
    />
  );
}

function WindowUnit() {
  const { values, set } = useSetUp();
  return (
    <select
      className="select w-32"
      name="windowUnit"
      aria-label="Occasions"
      value={values["windowUnit"] || "session"}
      onChange={({ target }) => set("windowUnit", target.value)}
    >
      <option value="session">sessions</option>
      <option value="day">days</option>
      <option value="week">weeks</option>
      <option value="month">months</option>
    </select>
  );
}
