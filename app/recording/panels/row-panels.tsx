import { useCallback, useMemo } from "react";
import { standingMarks } from "#core/marks/mark.ts";
import { Field } from "#app/ui/field.tsx";
import { ChecklistPanel, OutcomesPanel, RubricPanel, SkillsPanel, StepsPanel } from "../mark-rows.tsx";
import { valueAt, withMark } from "../sitting/sheet.ts";
import { mark } from "../sitting/use-sitting.ts";
import type { RunningTotalMeasure } from "#core/measures/running-total/running-total.ts";
import type { SittingPanel } from "./panel.ts";

/** What the rows of a form call their fields, and what the marks of a sitting call the same thing. */
const thingOf = (name: string) =>
  name === "outcome"
    ? "row.0"
    : name === "outcomeNote"
      ? "instead"
      : name.replace(/^(mark|item|level)\./, "row.");

/** The rows by which a grid, chain, checklist, rubric or outcome is marked, here and where an entry is corrected. */
export function RowsPad({ measure, sheet, store }: SittingPanel) {
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
  const panel = { values, set, problems: {} };
  switch (measure.kind) {
    case "skills":
      return <SkillsPanel measure={measure} {...panel} />;
    case "steps":
      return <StepsPanel measure={measure} {...panel} />;
    case "checklist":
      return <ChecklistPanel measure={measure} {...panel} />;
    case "rubric":
      return <RubricPanel measure={measure} {...panel} />;
    case "outcomes":
      return <OutcomesPanel measure={measure} {...panel} />;
    default:
      return null;
  }
}

export function RunningTotalPad({ measure, sheet, store }: SittingPanel<RunningTotalMeasure>) {
  const { unit, target, startsAgain } = measure;
  return (
    <Field
      label={`${unit.charAt(0).toUpperCase()}${unit.slice(1)} to add`}
      name={`amount ${sheet.goal.goalId}`}
      inputMode="decimal"
      value={valueAt(sheet, "amount")}
      onChange={({ target: field }) => mark(store, sheet.goal.goalId, "amount", field.value)}
      hint={`The target is ${target} ${unit}${startsAgain ? ` each ${startsAgain}` : ""}.`}
    />
  );
}
