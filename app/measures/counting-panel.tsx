import { useEffect, useRef, useState } from "react";
import { flushSync } from "react-dom";
import { observedFrom } from "#core/measures/observed-from.ts";
import type { Measure } from "#core/measures/measure.ts";
import type { Sheet } from "#core/sync/kept.ts";
import { newSheet, undone } from "#app/recording/sitting/sheet.ts";
import { useSittingKeys } from "#app/recording/sitting/sitting-keys.ts";
import { useSheet } from "#app/recording/sitting/use-sitting.ts";
import type { Values } from "./entry-form.ts";
import { entryFieldsOf, valuesWith } from "./entry-forms.ts";
import type { PadStore } from "./pad.ts";
import { PadOf } from "./pads.tsx";

const goalId = "form";

/** One sheet that stands in no sitting and on no disk. */
function loneSheet(measure: Measure, planned: number | null): PadStore {
  let sheet: Sheet = newSheet("", "", {
    goalId,
    measure,
    planned,
    number: "",
    title: "",
    wording: "",
    strategy: "",
    criterion: null,
    measureVersion: 1,
    purposes: [],
    dueOn: [],
  });
  const listeners = new Set<() => void>();
  return {
    sitting: () => ({ sittingId: "", startedAt: 0, students: [], setting: "", second: null }),
    sheet: () => sheet,
    sheets: () => [sheet],
    subscribe(_, call) {
      listeners.add(call);
      return () => listeners.delete(call);
    },
    change(_, make) {
      sheet = make(sheet);
      listeners.forEach((call) => call());
    },
  };
}

/**
 * The recording panel of a measure over the fields of a form: what it counts stands in the fields at once, on top of what was typed
 * there. A clock that still runs is read when the form is sent. Another measure needs another panel: give it a `key`.
 */
export default function CountingPanel({
  measure,
  planned,
  values,
  take,
  byKeys = false,
}: {
  measure: Measure;
  planned: number | null;
  values: Values;
  /** Puts these values into the fields. */
  take: (counted: Values) => void;
  byKeys?: boolean;
}) {
  const [store] = useState(() => loneSheet(measure, planned));
  const sheet = useSheet(store, goalId);
  const place = useRef<HTMLDivElement>(null);
  const now = useRef({ values, take });
  useEffect(() => {
    now.current = { values, take };
  });
  useEffect(() => {
    const { measure } = store.sheet(goalId).goal;
    const names = (entryFieldsOf(measure) ?? []).map(({ name }) => name);
    const said = (all: Values) => names.map((name) => all[name] ?? "").join("\n");
    /** What was typed before the first mark that counts, that mark's place, and what stands in the fields if nobody types. */
    let typed = now.current.values;
    let from = 0;
    let expected: string | null = null;
    const count = () => {
      const { marks } = store.sheet(goalId);
      if (said(now.current.values) !== expected) {
        // Typed before or meanwhile: what stands there counts, and the marks from this one on.
        typed = now.current.values;
        from = Math.max(0, marks.length - 1);
        expected = said(typed);
      }
      const next =
        marks.length <= from
          ? Object.fromEntries(names.map((name) => [name, typed[name] ?? ""]))
          : valuesWith(measure, typed, observedFrom(measure, marks.slice(from), Date.now()));
      if (next === null) return;
      now.current.take(next);
      now.current.values = { ...now.current.values, ...next };
      expected = said(now.current.values);
    };
    const form = place.current?.closest("form");
    const send = () => {
      if (expected !== null) flushSync(count);
    };
    const leave = store.subscribe(goalId, count);
    form?.addEventListener("submit", send, { capture: true });
    return () => {
      leave();
      form?.removeEventListener("submit", send, { capture: true });
    };
  }, [store]);
  return (
    <div ref={place} className="panel-body" data-shown={byKeys || undefined}>
      {byKeys ? <Keys /> : null}
      <PadOf measure={sheet.goal.measure} sheet={sheet} store={store} />
      <button
        type="button"
        data-key="u"
        className="btn btn-plain mt-3 h-11"
        disabled={sheet.marks.length === 0}
        onClick={() => store.change(goalId, undone)}
      >
        Undo
      </button>
    </div>
  );
}

function Keys() {
  useSittingKeys(() => undefined);
  return null;
}
