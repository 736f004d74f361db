import { ForTeam } from "#app/recording/for-team.tsx";
import { memo, useState } from "react";
import "#app/names/load-names.ts";
import { LoadedPad } from "#app/measures/loaded-pads.tsx";
import { purposeOptions } from "../purpose.ts";
import { NameSelect } from "./name-select.tsx";
import type { Device } from "../device/device.ts";
import type { Sheet, SheetState } from "#core/sync/kept.ts";
import { undone } from "./sheet.ts";
import type { SittingStore } from "./store.ts";
import { useHolder, useSheet, useSitting } from "./use-sitting.ts";
import { Whose } from "#app/measures/whose.tsx";

const stateWords: Record<Exclude<SheetState, null>, string> = {
  absent: "Absent: nothing is measured today.",
  refused: "Refused: recorded as not measured.",
  interrupted: "Interrupted: marks so far are saved.",
};

/** What may be said of a sheet beside its marks. */
function More({ sheet, store, device }: { sheet: Sheet; store: SittingStore; device: Device }) {
  const { goalId, purposes, measure } = sheet.goal;
  const { supports, settings, person, colleagues } = device.pack;
  const holder = useHolder(device);
  const observer = sheet.observer === undefined ? holder : sheet.observer;
  const { setting } = useSitting(store);
  const change = (part: Partial<Sheet>) => store.change(goalId, (before) => ({ ...before, ...part }));
  return (
    <div className="grid gap-3">
      <label className="grid gap-1 text-fine font-bold">
        Note
        <textarea
          className="textarea w-full text-base font-normal"
          rows={2}
          maxLength={2000}
          autoFocus
          value={sheet.note}
          onChange={({ target }) => change({ note: target.value })}
        />
        <span className="font-normal text-soft">Appears in the report as written.</span>
      </label>
      <names-under about={sheet.studentId} />
      <ForTeam
        checked={sheet.noteForTeam ?? false}
        onChange={({ target }) => change({ noteForTeam: target.checked })}
      />
      <div className="grid grid-cols-2 gap-3">
        {"levels" in measure ? null : (
          <label className="grid gap-1 text-fine font-bold">
            Support given
            <NameSelect names={supports} value={sheet.support} onChoose={(support) => change({ support })} />
          </label>
        )}
        <label className="grid gap-1 text-fine font-bold">
          Purpose
          <select
            className="select h-11 w-full font-normal"
            value={sheet.purpose}
            onChange={({ target }) => change({ purpose: target.value as Sheet["purpose"] })}
          >
            {purposeOptions(purposes).map(([value, label]) => (
              <option key={value} value={value}>
                {label}
              </option>
            ))}
          </select>
        </label>
        <label className="grid gap-1 text-fine font-bold sm:hidden">
          Setting of the sitting
          <NameSelect
            names={settings}
            value={setting}
            onChoose={(name) => store.changeSitting((before) => ({ ...before, setting: name }))}
          />
        </label>
        <label className="grid gap-1 text-fine font-bold">
          Observed by
          <select
            className="select h-11 w-full font-normal"
            value={observer?.personId ?? ""}
            onChange={({ target }) => {
              const chosen = colleagues.find(({ personId }) => personId === target.value);
              const byPin = [holder, observer].find((one) => one?.personId === target.value);
              change({
                observer: chosen
                  ? { personId: chosen.personId, name: chosen.name, handoverId: byPin?.handoverId ?? null }
                  : null,
              });
            }}
          >
            <option value="">{person.name}</option>
            {colleagues.map(({ personId, name }) => (
              <option key={personId} value={personId}>
                {name}
              </option>
            ))}
          </select>
        </label>
      </div>
    </div>
  );
}

interface PanelOfGoal {
  store: SittingStore;
  goalId: string;
  device: Device;
}

/** What the goal says, and for what and where it is recorded: it stays as it is while the panel counts. */
const PanelHead = memo(function PanelHead({ goal, what }: { goal: Sheet["goal"]; what: string }) {
  return (
    <header className="-mx-2 grid grid-cols-[auto_1fr] gap-x-3 px-2 pt-1">
      <p className="font-serif text-2xl leading-tight font-semibold">{goal.number}</p>
      <div className="min-w-0">
        <h2 className="font-serif text-[1.05rem] leading-snug break-words" dir="auto">
          {goal.title}
        </h2>
        <details className="text-fine text-soft">
          <summary className="min-h-11 cursor-pointer py-2.5">
            {goal.criterion ? `criterion ${goal.criterion} · ` : ""}
            <b className="font-bold">{what}</b> · whole wording
          </summary>
          <p className="pb-2 font-serif text-base leading-relaxed break-words text-base-content" dir="auto">
            {goal.wording}
          </p>
          {goal.strategy ? (
            <p className="pb-2 text-[0.9375rem] leading-snug break-words text-base-content" dir="auto">
              <b>How it is taught:</b> {goal.strategy}
            </p>
          ) : null}
        </details>
      </div>
    </header>
  );
});

/** Says absent, refused or interrupted of a goal, or takes it back. Who is absent is so for every goal without a mark. */
function setState(store: SittingStore, goalId: string, next: SheetState): void {
  const { studentId } = store.sheet(goalId);
  const goals =
    next === "absent"
      ? store
          .sheets()
          .filter((one) => one.studentId === studentId && one.marks.length === 0)
          .map(({ goal }) => goal.goalId)
      : [goalId];
  for (const one of goals) store.change(one, (before) => ({ ...before, state: next }));
}

/** Undo, the note and what was not as planned. Memoised, since most marks do not change it. */
const PanelFoot = memo(function PanelFoot({
  store,
  goalId,
  state,
  nothing,
  noted,
  open,
  setOpen,
}: Omit<PanelOfGoal, "device"> & {
  state: SheetState;
  nothing: boolean;
  noted: boolean;
  open: boolean;
  setOpen: (open: boolean) => void;
}) {
  return (
    <div className="mt-3 flex flex-wrap gap-2">
      <button
        type="button"
        className="btn btn-plain h-11"
        data-key="u"
        disabled={nothing}
        onClick={() => store.change(goalId, undone)}
      >
        Undo
        <Whose />
      </button>
      <button
        type="button"
        className="btn btn-plain h-11"
        data-key="n"
        aria-expanded={open}
        onClick={() => setOpen(!open)}
      >
        {noted ? "Note ✓" : "Note"}
        <Whose />
      </button>
      <span className="-ml-2 flex basis-full flex-wrap gap-1" role="group" aria-label="Not as planned">
        {(["absent", "refused", "interrupted"] as const)
          .filter((one) => one === "interrupted" || !store.sitting().second)
          .map((one) => (
            <button
              key={one}
              type="button"
              className="min-h-11 cursor-pointer px-2 text-fine text-soft capitalize underline decoration-dotted underline-offset-4 hover:text-base-content aria-pressed:font-bold aria-pressed:text-base-content"
              aria-pressed={state === one}
              onClick={() => setState(store, goalId, state === one ? null : one)}
            >
              {one}
              <Whose />
            </button>
          ))}
      </span>
    </div>
  );
});

/** Draws one goal in a sitting: student, title, panel, undo, note and what was not as planned. */
const PanelContent = memo(function PanelContent({ store, goalId, device }: PanelOfGoal) {
  const sheet = useSheet(store, goalId);
  const [open, setOpen] = useState(false);
  const { setting } = useSitting(store);
  const { goal, state, marks } = sheet;
  return (
    <>
      <PanelHead
        goal={goal}
        what={[purposeOptions(goal.purposes).find(([value]) => value === sheet.purpose)?.[1], setting]
          .filter(Boolean)
          .join(" · ")}
      />
      {state === null || state === "interrupted" ? (
        <form className="panel-body mt-3" onSubmit={(event) => event.preventDefault()}>
          <LoadedPad measure={goal.measure} sheet={sheet} store={store} />
        </form>
      ) : null}
      {state === null ? null : (
        <p className="mt-3 rounded-lg bg-arrival px-3 py-2" role="status">
          {stateWords[state]}
        </p>
      )}
      <PanelFoot
        store={store}
        goalId={goalId}
        state={state}
        nothing={marks.length === 0 && state === null}
        noted={sheet.note !== ""}
        open={open}
        setOpen={setOpen}
      />
      {open ? (
        <div className="mt-3">
          <More sheet={sheet} store={store} device={device} />
        </div>
      ) : null}
    </>
  );
});

export const GoalPanel = memo(function GoalPanel({
  onTouch,
  ...content
}: PanelOfGoal & { onTouch: () => void }) {
  const { store, goalId } = content;
  const { number, title } = store.sheet(goalId).goal;
  return (
    <section
      aria-label={`Goal ${number} ${title}`}
      className="sitting-panel"
      onPointerDown={onTouch}
      onFocus={onTouch}
    >
      <PanelContent {...content} />
    </section>
  );
});
