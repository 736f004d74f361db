import type { LatencyMeasure } from "./schema.ts";
import type { FromMarks } from "../from-marks.ts";
import { secondsBetween } from "../../marks/mark.ts";

/** The delays between signal and response. */
export const latencyFromMarks: FromMarks<LatencyMeasure> = (_, { marks }) => {
  const delays: number[] = [];
  let noResponse = 0;
  let signal: number | null = null;
  for (const { at, on } of marks) {
    if (on === "signal") signal = at;
    else if (on === "response" && signal !== null) {
      delays.push(secondsBetween(signal, at));
      signal = null;
    } else if (on === "no response") {
      noResponse += 1;
      signal = null;
    }
  }
  return delays.length + noResponse === 0 ? null : { delaysSeconds: delays, noResponse };
};
