import type { TrialsMeasure } from "./schema.ts";
import type { FromMarks } from "../from-marks.ts";
import { trialsEntryFromMarks } from "./trials.ts";

/** The trials in their order. */
export const trialsFromMarks: FromMarks<TrialsMeasure> = (_, { valuesOn }) => {
  const trials = valuesOn("trial");
  return trials.length === 0 ? null : { ...trialsEntryFromMarks(trials.map((one) => one === "1")) };
};
