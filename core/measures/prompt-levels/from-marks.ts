import type { PromptLevelsMeasure } from "./schema.ts";
import type { FromMarks } from "../from-marks.ts";
import { promptLevelsEntryFromMarks } from "./prompt-levels.ts";
import { ladderMarks } from "../ladder.ts";

/** The prompt level of each opportunity, in their order. */
export const promptLevelsFromMarks: FromMarks<PromptLevelsMeasure> = (measure, { valuesOn }) => {
  const named = ladderMarks(measure);
  const levels = valuesOn("level").map((index) => named[Number(index)] ?? "");
  return levels.length === 0 ? null : { ...promptLevelsEntryFromMarks(levels) };
};
