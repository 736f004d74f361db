import type { StepsMeasure } from "./schema.ts";
import type { FromMarks } from "../from-marks.ts";
import { ladderMarks } from "../ladder.ts";

/** The mark of each step; null where it has none. */
export const stepsFromMarks: FromMarks<StepsMeasure> = (measure, { finished, stand }) => {
  const named = ladderMarks(measure);
  const each = measure.steps.map((_, index) => named[Number(stand.get(`row.${index}`) || -1)] ?? null);
  return each.every((mark) => mark === null)
    ? null
    : { marks: each, ...(finished ? {} : { finished: false }) };
};
