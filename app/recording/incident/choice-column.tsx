import { type KeyboardEvent, useState } from "react";
import { v7 as newId } from "uuid";
import type { ChosenOne } from "#core/model/incident-content.ts";

export interface OfferedChoice {
  choiceId: string;
  name: string;
  definition: string | null;
}

/** Arrow keys go from button to button within a column, and to the same place of the next one. */
function moveFocus(event: KeyboardEvent<HTMLElement>): void {
  const by = { ArrowDown: 1, ArrowUp: -1 }[event.key];
  if (by === undefined || !(event.target instanceof HTMLButtonElement)) return;
  const buttons = [...event.currentTarget.querySelectorAll<HTMLButtonElement>("button[aria-pressed]")];
  const next = buttons[buttons.indexOf(event.target) + by];
  if (!next) return;
  event.preventDefault();
  next.focus();
}

/** Words that stand in no list yet: for this incident, and in the list from now on where wanted. */
function Other({ label, onAdd }: { label: string; onAdd: (one: ChosenOne) => void }) {
  const [open, setOpen] = useState(false);
  const [name, setName] = useState("");
  const [stays, setStays] = useState(true);
  if (!open)
    return (
      <button type="button" className="choice choice-other" onClick={() => setOpen(true)}>
        other …
      </button>
    );
  const add = () => {
    const words = name.trim();
    if (words !== "") onAdd({ choiceId: newId(), name: words, ...(stays ? {} : { once: true }) });
    setName("");
    setOpen(false);
  };
  return (
    <div className="grid basis-full gap-1.5 rounded-lg border border-base-300 p-2">
      <input
        className="input h-11 w-full"
        aria-label={`Other words, ${label}`}
        maxLength={100}
        autoFocus
        value={name}
        onChange={({ target }) => setName(target.value)}
        onKeyDown={(event) => {
          if (event.key === "Enter") {
            event.preventDefault();
            add();
          }
          if (event.key === "Escape") setOpen(false);
        }}
      />
      <label className="flex min-h-11 items-center gap-2 text-fine">
        <input
          type="checkbox"
          className="size-5 accent-primary"
          checked={stays}
          onChange={({ target }) => setStays(target.checked)}
        />
        add to the list
      </label>
      <button type="button" className="btn btn-plain h-11" onClick={add}>
        Add
      </button>
    </div>
  );
}

/** One part of what happened, made of the student's own choices; each touch takes one or lets it go. */
export function ChoiceColumn({
  label,
  hint,
  offered,
  chosen,
  single = false,
  onChoose,
}: {
  label: string;
  hint?: string;
  offered: readonly OfferedChoice[];
  chosen: readonly ChosenOne[];
  single?: boolean;
  onChoose: (next: ChosenOne[]) => void;
}) {
  const [defined, setDefined] = useState(false);
  const taken = new Set(chosen.map(({ choiceId }) => choiceId));
  // New words are added at the end, so that the offered choices keep their places.
  const more = chosen
    .filter(({ choiceId }) => !offered.some((one) => one.choiceId === choiceId))
    .map(({ choiceId, name }) => ({ choiceId, name, definition: null }));
  const toggle = ({ choiceId, name }: OfferedChoice) => {
    const made = chosen.find((one) => one.choiceId === choiceId) ?? { choiceId, name };
    if (single) onChoose(taken.has(choiceId) ? [] : [made]);
    else onChoose(taken.has(choiceId) ? chosen.filter((one) => one !== made) : [...chosen, made]);
  };
  const definitions = offered.some(({ definition }) => definition !== null);
  return (
    <section className="choice-column" aria-label={label} onKeyDown={moveFocus}>
      <div className="flex min-h-11 items-center justify-between gap-2">
        <h2 className="font-serif text-lg leading-tight font-semibold">{label}</h2>
        {definitions ? (
          <button
            type="button"
            className="min-h-11 cursor-pointer px-1 text-fine text-soft underline decoration-dotted underline-offset-4"
            aria-expanded={defined}
            onClick={() => setDefined(!defined)}
          >
            what counts
          </button>
        ) : hint ? (
          <span className="text-fine text-soft">{hint}</span>
        ) : null}
      </div>
      <div className="choice-list">
        {[...offered, ...more].map((one) => (
          <div key={one.choiceId} className={defined && one.definition ? "basis-full" : undefined}>
            <button
              type="button"
              className="choice"
              aria-pressed={taken.has(one.choiceId)}
              onClick={() => toggle(one)}
            >
              <span dir="auto">{one.name}</span>
              {taken.has(one.choiceId) ? <span className="tick" aria-hidden="true" /> : null}
            </button>
            {defined && one.definition ? (
              <p className="px-1 pt-0.5 pb-1 text-fine text-soft" dir="auto">
                {one.definition}
              </p>
            ) : null}
          </div>
        ))}
        <Other
          label={label}
          onAdd={(one) => {
            const same = [...offered, ...more].find(
              ({ name }) => name.toLowerCase() === one.name.toLowerCase(),
            );
            if (!same) onChoose(single ? [one] : [...chosen, one]);
            else if (!taken.has(same.choiceId)) toggle(same);
          }}
        />
      </div>
    </section>
  );
}
