import type { SkillsMeasure } from "./schema.ts";
import { type SheetLine, readCodes, markCodes, notMarked } from "../sheet-line.ts";
import { ladderMarks } from "../ladder.ts";

export const skillsLine: SheetLine<SkillsMeasure> = {
  codes: (measure) => [...markCodes(ladderMarks(measure)), notMarked],
  columns: ({ skills }) => skills,
  hint: () => "a code for each of the skills, in order: 112-3",
  read(measure, text) {
    const read = readCodes(text, ladderMarks(measure), measure.skills.length, "skills");
    if (typeof read === "string") return read;
    const marked = measure.skills.flatMap((skill, index) => {
      const mark = read[index];
      return mark === null || mark === undefined ? [] : [[skill, mark] as const];
    });
    return {
      marks: Object.fromEntries(marked),
      ...(marked.length < measure.skills.length ? { finished: false } : {}),
    };
  },
};
