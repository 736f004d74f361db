import type { RubricMeasure } from "./schema.ts";
import { type SheetLine, whole } from "../sheet-line.ts";
import { criterionName } from "./rubric.ts";

export const rubricLine: SheetLine<RubricMeasure> = {
  codes: () => [],
  columns: ({ criteria }) => criteria.map((criterion) => `${criterionName(criterion)} (0–${criterion.max})`),
  hint: () => "a level for each criterion, in order: 3 2 4",
  read(measure, text) {
    const typedLevels = text.split(/[\s,]+/).map(whole);
    if (typedLevels.length !== measure.criteria.length || typedLevels.includes(null))
      return `Write ${measure.criteria.length} levels, one for each criterion: 3 2 4.`;
    return {
      levels: Object.fromEntries(measure.criteria.map(({ id }, index) => [id, typedLevels[index]])),
    };
  },
};
