import type { IntervalsMeasure } from "./schema.ts";
import { type SheetLine, numbered } from "../sheet-line.ts";

export const intervalsLine: SheetLine<IntervalsMeasure> = {
  codes: () => [
    { code: "1", means: "seen" },
    { code: "0", means: "not seen" },
    { code: "-", means: "not observed" },
  ],
  columns: ({ planned }) => numbered(Math.min(planned ?? 20, 60)),
  hint: () => "1, 0 or - for each interval: 1101-0",
  read(_, text) {
    return /^[01-]+$/.test(text) ? { marks: text } : null;
  },
};
