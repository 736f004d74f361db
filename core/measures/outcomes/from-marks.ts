import type { OutcomesMeasure } from "./schema.ts";
import type { FromMarks } from "../from-marks.ts";

/** The outcome, or what else happened. */
export const outcomesFromMarks: FromMarks<OutcomesMeasure> = (measure, { stand }) => {
  const chosen = stand.get("row.0") ?? "";
  if (chosen === "") return null;
  const note = stand.get("instead")?.trim();
  return chosen === "other"
    ? { outcome: "other", ...(note ? { note } : {}) }
    : { outcome: measure.outcomes[Number(chosen)]?.id ?? "" };
};
