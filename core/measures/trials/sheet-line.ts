import type { TrialsMeasure } from "./schema.ts";
import { type SheetLine, numbered } from "../sheet-line.ts";
import { trialsEntryFromMarks } from "./trials.ts";

export const trialsLine: SheetLine<TrialsMeasure> = {
  codes: () => [
    { code: "1", means: "correct" },
    { code: "0", means: "not yet" },
  ],
  columns: ({ planned }) => numbered(planned ?? 10),
  hint: () => "7/10, or each trial in order: 1101110101",
  read(_, text) {
    const [, correct, attempted] = /^(\d{1,4})\s*(?:\/|of)\s*(\d{1,4})$/i.exec(text) ?? [];
    if (correct !== undefined) return { correct: Number(correct), attempted: Number(attempted) };
    return /^[01]{2,200}$/.test(text)
      ? { ...trialsEntryFromMarks([...text].map((mark) => mark === "1")) }
      : null;
  },
};
