import type { FluencyMeasure } from "./schema.ts";
import { type FromMarks, typedNumber } from "../from-marks.ts";
import { type Mark, secondsOn, stretches } from "../../marks/mark.ts";

/** How long a timed reading lasted: its clock, at most the time planned. `now` in milliseconds since 1970. */
export function readingSeconds(
  { plannedSeconds }: { plannedSeconds?: number | undefined },
  marks: readonly Mark[],
  now: number,
): number {
  return Math.min(plannedSeconds ?? 60, secondsOn(stretches(marks, "clock"), now));
}

/** What was attempted in the reading, with its errors and its time. */
export const fluencyFromMarks: FromMarks<FluencyMeasure> = (measure, { marks, now, stand, valuesOn }) => {
  const attempted = typedNumber(stand.get("last"));
  const seconds = typedNumber(stand.get("seconds")) ?? readingSeconds(measure, marks, now);
  if (attempted === undefined && seconds === 0) return null;
  return { attempted, errors: valuesOn("error").length, seconds };
};
