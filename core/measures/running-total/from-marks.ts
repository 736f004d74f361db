import type { RunningTotalMeasure } from "./schema.ts";
import { type FromMarks, typedNumber } from "../from-marks.ts";

/** The amount. */
export const runningTotalFromMarks: FromMarks<RunningTotalMeasure> = (_, { stand }) => {
  const amount = typedNumber(stand.get("amount"));
  return amount === undefined ? null : { amount };
};
