import type { CountMeasure } from "./schema.ts";
import { type SheetLine, whole, cutTime, notATime } from "../sheet-line.ts";

export const countLine: SheetLine<CountMeasure> = {
  codes: () => [],
  columns: ({ counted }) => [counted ?? "count", "observed for"],
  hint: ({ per }) => (per === "observation" ? "12, or 12 in 20 min" : "12 in 20 min"),
  read(_, text) {
    const { rest, seconds } = cutTime(text);
    const count = whole(rest);
    if (seconds === null) return notATime;
    return count === null ? null : { count, observedSeconds: seconds };
  },
};
