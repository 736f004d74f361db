import type { CountMeasure } from "./schema.ts";
import { type FromMarks, clockedSeconds } from "../from-marks.ts";

/** How often, with the moment of each. */
export const countFromMarks: FromMarks<CountMeasure> = (_, marked) => {
  const { marks, moment } = marked;
  const presses = marks.filter(({ on }) => on === "press");
  const seconds = clockedSeconds(marked);
  if (presses.length === 0 && seconds === undefined) return null;
  return {
    count: presses.length,
    observedSeconds: seconds,
    atSeconds: presses.map(({ at }) => moment(at)),
  };
};
