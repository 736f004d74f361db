import type { DurationMeasure } from "./schema.ts";
import { type SheetLine, cutTime, notATime } from "../sheet-line.ts";
import { readLengthOfTime } from "../../words/read-time.ts";

export const durationLine: SheetLine<DurationMeasure> = {
  codes: () => [],
  columns: () => ["bouts, each with its time", "observed for"],
  hint: ({ report }) =>
    report === "share" ? "4:10, 0:45 in 20 min; or none in 20 min" : "4:10, 0:45; or none",
  read(_, text) {
    const { rest, seconds } = cutTime(text);
    if (seconds === null) return notATime;
    if (/^none$/i.test(rest)) return { boutsSeconds: [], observedSeconds: seconds };
    const bouts = rest.split(/[,;]/).map(readLengthOfTime);
    return bouts.includes(null) ? null : { boutsSeconds: bouts, observedSeconds: seconds };
  },
};
