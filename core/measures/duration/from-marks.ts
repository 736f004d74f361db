import type { DurationMeasure } from "./schema.ts";
import { type FromMarks, clockedSeconds } from "../from-marks.ts";
import { secondsBetween, stretches } from "../../marks/mark.ts";

/** The bouts, with the start of each. */
export const durationFromMarks: FromMarks<DurationMeasure> = (_, marked) => {
  const { marks, now, stand, moment } = marked;
  const bouts = stretches(marks, "bout");
  const seconds = clockedSeconds(marked);
  if (bouts.length === 0 && stand.get("none") !== "1" && seconds === undefined) return null;
  const lengths = bouts.map(({ from, to }) => secondsBetween(from, to ?? now));
  const total = lengths.reduce((sum, length) => sum + length, 0);
  return {
    boutsSeconds: lengths,
    startsSeconds: bouts.map(({ from }) => moment(from)),
    // Two clocks started by one thumb may differ by a tenth; a bout is never longer than its observation for that.
    observedSeconds: seconds !== undefined && total > seconds && total < seconds + 1 ? total : seconds,
  };
};
