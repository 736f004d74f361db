import type { SkillsMeasure } from "./schema.ts";
import type { FromMarks } from "../from-marks.ts";
import { ladderMarks } from "../ladder.ts";

/** The mark of each sub-skill that has one. */
export const skillsFromMarks: FromMarks<SkillsMeasure> = (measure, { stand, finished }) => {
  const named = ladderMarks(measure);
  const marked = measure.skills.flatMap((skill, index) => {
    const mark = named[Number(stand.get(`row.${index}`) || -1)];
    return mark === undefined ? [] : [[skill, mark] as const];
  });
  return marked.length === 0
    ? null
    : { marks: Object.fromEntries(marked), ...(finished ? {} : { finished: false }) };
};
