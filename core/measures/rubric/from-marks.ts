import type { RubricMeasure } from "./schema.ts";
import type { FromMarks } from "../from-marks.ts";

/** The level of each criterion. */
export const rubricFromMarks: FromMarks<RubricMeasure> = (measure, { stand }) => {
  const levels = measure.criteria.flatMap(({ id }, index) => {
    const level = stand.get(`row.${index}`) ?? "";
    return level === "" ? [] : [[id, Number(level)] as const];
  });
  const rater = stand.get("rater")?.trim();
  return levels.length === 0 ? null : { levels: Object.fromEntries(levels), ...(rater ? { rater } : {}) };
};
