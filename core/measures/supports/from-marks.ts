import type { SupportsMeasure } from "./schema.ts";
import type { FromMarks } from "../from-marks.ts";
import { supportsEntryFromMarks } from "./supports.ts";
import { ladderMarks } from "../ladder.ts";

/** The prompt level of each opportunity, in their order. */
export const supportsFromMarks: FromMarks<SupportsMeasure> = (measure, { valuesOn }) => {
  const named = ladderMarks(measure);
  const levels = valuesOn("level").map((index) => named[Number(index)] ?? "");
  return levels.length === 0 ? null : { ...supportsEntryFromMarks(levels) };
};
