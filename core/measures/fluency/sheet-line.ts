import type { FluencyMeasure } from "./schema.ts";
import { type SheetLine, cutTime, notATime } from "../sheet-line.ts";

export const fluencyLine: SheetLine<FluencyMeasure> = {
  codes: () => [],
  columns: ({ counted }) => [`${counted ?? "words"} attempted`, "errors", "time"],
  hint: () => "attempted/errors: 84/3, or 50/2 in 41 s",
  read(measure, text) {
    const { rest, seconds } = cutTime(text);
    if (seconds === null) return notATime;
    const [, attempted, errors = "0"] = /^(\d{1,4})(?:\s*\/\s*(\d{1,4}))?$/.exec(rest) ?? [];
    return attempted === undefined
      ? null
      : {
          attempted: Number(attempted),
          errors: Number(errors),
          seconds: seconds ?? measure.plannedSeconds ?? 60,
        };
  },
};
