import { useCallback, useLayoutEffect, useMemo, useRef } from "react";
import { standingMarks } from "#core/marks/mark.ts";
import { valueAt, withMark } from "#app/recording/sitting/sheet.ts";
import { type RowMeasure, RowsOf } from "./rows-of.tsx";
import type { PadProps } from "./pad.ts";

/** Translates the name of a form's field to the name of the mark in a sitting. */
const thingOf = (name: string) =>
  name === "outcome"
    ? "row.0"
    : name === "outcomeNote"
      ? "instead"
      : name.replace(/^(mark|item|level)\./, "row.");

/** The rows of a form, which write marks on a sheet. */
export function RowsPad({ measure, sheet, store }: PadProps<RowMeasure>) {
  const { goalId } = sheet.goal;
  const set = useCallback(
    (name: string, value: string | ((before: string) => string)) => {
      const on = thingOf(name);
      store.change(goalId, (before) =>
        withMark(before, {
          at: Date.now(),
          on,
          value: typeof value === "function" ? value(valueAt(before, on)) : value,
        }),
      );
    },
    [store, goalId],
  );
  const values = useMemo(() => {
    const stand = standingMarks(sheet.marks);
    const said: Record<string, string> = {
      outcome: stand.get("row.0") ?? "",
      outcomeNote: stand.get("instead") ?? "",
      rater: stand.get("rater") ?? "",
    };
    for (const [on, value] of stand)
      if (on.startsWith("row."))
        for (const kind of ["mark", "item", "level"]) said[on.replace("row", kind)] = value;
    return said;
  }, [sheet.marks]);
  const before = useRef(sheet.marks);
  const rows = useRef<HTMLDivElement>(null);
  useLayoutEffect(() => {
    const { marks } = sheet;
    const gone = before.current.at(marks.length);
    before.current = marks;
    // After an undo by key the row that was undone is marked next.
    if (!gone || !rows.current?.contains(document.activeElement)) return;
    const row = rows.current.querySelectorAll("[data-row]")[Number(gone.on.slice(4))];
    row?.querySelector("input")?.focus();
  }, [sheet]);
  return (
    <div ref={rows}>
      <RowsOf measure={measure} values={values} set={set} problems={{}} />
    </div>
  );
}
