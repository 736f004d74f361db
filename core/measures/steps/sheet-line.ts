import type { StepsMeasure } from "./schema.ts";
import { type SheetLine, readCodes, markCodes, notMarked } from "../sheet-line.ts";
import { ladderMarks } from "../ladder.ts";

export const stepsLine: SheetLine<StepsMeasure> = {
  codes: (measure) => [...markCodes(ladderMarks(measure)), notMarked],
  columns: ({ steps }) => steps,
  hint: () => "a code for each of the steps, in order: 112-3",
  read(measure, text) {
    const read = readCodes(text, ladderMarks(measure), measure.steps.length, "steps");
    return typeof read === "string" ? read : { marks: read };
  },
};
