import type { IntervalsMeasure } from "./schema.ts";
import type { FromMarks } from "../from-marks.ts";
import { intervalMarks } from "./clock.ts";

/** The mark of each interval. */
export const intervalsFromMarks: FromMarks<IntervalsMeasure> = (measure, { marks, now }) => {
  const each = intervalMarks(measure, marks, now);
  return each.replaceAll("-", "") === "" ? null : { marks: each };
};
