import { guesses } from "#core/model/guesses.ts";
import type { ChosenChoices, IncidentDetails } from "#core/model/incident-content.ts";
import type { IncidentSettings, IncidentPart } from "#core/incidents/settings.ts";
import { isFlagged } from "#core/incidents/missing-facts.ts";
import { capitalise } from "#core/words/numbers.ts";
import { ChoiceColumn, type OfferedChoice } from "./choice-column.tsx";

function Pick<Value extends string | number | boolean>({
  label,
  options,
  value,
  onPick,
}: {
  label: string;
  options: readonly (readonly [value: Value, words: string])[];
  value: readonly Value[];
  onPick: (value: Value) => void;
}) {
  return (
    <div role="group" aria-label={label}>
      <p className="mb-1 text-fine font-bold">{label}</p>
      <div className="flex flex-wrap gap-1.5">
        {options.map(([one, words]) => (
          <button
            key={String(one)}
            type="button"
            className="choice text-[0.9rem]"
            aria-pressed={value.includes(one)}
            onClick={() => onPick(one)}
          >
            {words}
          </button>
        ))}
      </div>
    </div>
  );
}

function Minutes({
  label,
  value,
  onChange,
}: {
  label: string;
  value: number | null;
  onChange: (minutes: number | null) => void;
}) {
  return (
    <label className="mt-1.5 flex items-center gap-2 text-fine">
      {label}
      <input
        className="input h-11 w-20 text-center"
        type="number"
        inputMode="decimal"
        min={0}
        max={1440}
        step="any"
        value={value ?? ""}
        onChange={({ target }) => {
          const minutes = target.valueAsNumber;
          onChange(Number.isFinite(minutes) ? Math.min(1440, Math.max(0, minutes)) : null);
        }}
      />
      min
    </label>
  );
}

const harms = ["injury", "restraint", "seclusion"] as const;

/** Everything else that may be said of an incident; what the school does not ask is not here. */
export function More({
  settings,
  asksWhy,
  colleagues,
  events,
  details,
  chosen,
  clocked,
  onDetails,
  onEvents,
}: {
  settings: IncidentSettings;
  asksWhy: boolean;
  colleagues: readonly { personId: string; name: string }[];
  events: readonly OfferedChoice[];
  details: IncidentDetails;
  chosen: ChosenChoices;
  /** Does a clock say how long it lasted? */
  clocked: boolean;
  onDetails: (part: Partial<IncidentDetails>) => void;
  onEvents: (next: ChosenChoices["setting event"]) => void;
}) {
  const has = (part: IncidentPart) => !settings.off.includes(part);
  const { length, intensity, resolved, resolvedMinutes, functions, adults, peers, harm } = details;
  const band = length && "band" in length ? length.band.name : null;
  const toggled = <One,>(list: readonly One[], one: One) =>
    list.includes(one) ? list.filter((other) => other !== one) : [...list, one];
  return (
    <div className="grid items-start gap-x-8 gap-y-5 md:grid-cols-2">
      {has("how long") && !clocked ? (
        <div>
          <Pick
            label="How long"
            options={settings.bands.map(({ name }) => [name, name] as const)}
            value={band === null ? [] : [band]}
            onPick={(name) => {
              const found = settings.bands.find((one) => one.name === name);
              onDetails({ length: found && name !== band ? { band: found } : null });
            }}
          />
          <Minutes
            label="or exactly"
            value={length && "minutes" in length ? length.minutes : null}
            onChange={(minutes) => onDetails({ length: minutes === null ? null : { minutes } })}
          />
        </div>
      ) : null}
      {has("how strong") ? (
        <Pick
          label="How strong"
          options={settings.strengths.map((words, at) => [at + 1, `${at + 1} ${words}`] as const)}
          value={intensity === null ? [] : [intensity]}
          onPick={(level) => onDetails({ intensity: level === intensity ? null : level })}
        />
      ) : null}
      {has("resolved") ? (
        <div>
          <Pick
            label="Resolved"
            options={[
              [true, "yes"],
              [false, "no"],
            ]}
            value={resolved === null ? [] : [resolved]}
            onPick={(one) => onDetails({ resolved: one === resolved ? null : one })}
          />
          {resolved ? (
            <Minutes
              label="after"
              value={resolvedMinutes}
              onChange={(minutes) => onDetails({ resolvedMinutes: minutes })}
            />
          ) : null}
        </div>
      ) : null}
      {asksWhy && has("why") ? (
        <Pick
          label="Why, as you think now"
          options={guesses.map((one) => [one, one === "unknown" ? "not known" : one] as const)}
          value={functions}
          onPick={(one) => onDetails({ functions: toggled(functions, one) })}
        />
      ) : null}
      {has("setting events") ? (
        <ChoiceColumn
          label="That day"
          offered={events}
          chosen={chosen["setting event"]}
          onChoose={onEvents}
        />
      ) : null}
      {has("adults") && colleagues.length > 0 ? (
        <Pick
          label="Adults involved"
          options={colleagues.map(({ personId, name }) => [personId, name] as const)}
          value={adults}
          onPick={(one) => onDetails({ adults: toggled(adults, one) })}
        />
      ) : null}
      {has("peers") ? (
        <div role="group" aria-label="Other students">
          <p className="mb-1 text-fine font-bold">Other students, by no name</p>
          <div className="flex flex-wrap items-center gap-1.5">
            <button
              type="button"
              className="choice text-[0.9rem]"
              disabled={peers === 0}
              onClick={() => onDetails({ peers: peers - 1 })}
            >
              one less
            </button>
            <button
              type="button"
              className="choice text-[0.9rem]"
              disabled={peers === 6}
              onClick={() => onDetails({ peers: peers + 1 })}
            >
              one more
            </button>
            <span role="status">
              {peers === 0
                ? "none"
                : Array.from("ABCDEF".slice(0, peers), (letter) => `peer ${letter}`).join(", ")}
            </span>
          </div>
        </div>
      ) : null}
      {has("harm") ? (
        <div className="grid gap-2">
          <Pick
            label="Was there"
            options={harms.map((one) => [one, one] as const)}
            value={harms.filter((one) => harm[one])}
            onPick={(one) => onDetails({ harm: { ...harm, [one]: !harm[one] } })}
          />
          {isFlagged(harm)
            ? settings.harmAsked.map((asked) => (
                <label key={asked} className="grid gap-1 text-fine font-bold">
                  {capitalise(asked)}
                  <input
                    className="input h-11 w-full font-normal"
                    maxLength={500}
                    value={harm.facts.find((fact) => fact.asked === asked)?.said ?? ""}
                    onChange={({ target }) =>
                      onDetails({
                        harm: {
                          ...harm,
                          facts: [
                            ...harm.facts.filter((fact) => fact.asked !== asked),
                            ...(target.value ? [{ asked, said: target.value }] : []),
                          ],
                        },
                      })
                    }
                  />
                </label>
              ))
            : null}
        </div>
      ) : null}
    </div>
  );
}
