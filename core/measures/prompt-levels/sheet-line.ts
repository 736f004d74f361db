import type { PromptLevelsMeasure } from "./schema.ts";
import { type SheetLine, numbered, markCodes } from "../sheet-line.ts";
import { ladderMarks } from "../ladder.ts";
import { promptLevelsEntryFromMarks } from "./prompt-levels.ts";

export const promptLevelsLine: SheetLine<PromptLevelsMeasure> = {
  codes: (measure) => markCodes(ladderMarks(measure)),
  columns: ({ planned }) => numbered(planned ?? 10),
  hint: ({ levels }) => `each opportunity by its code, in order: 11213 (1 is ${levels[0]})`,
  read(measure, text) {
    const names = ladderMarks(measure);
    // A count is what one knows from other sheets: it is asked which levels they were.
    const share = /^(\d+)\s*(?:\/|of)\s*(\d+)$/i.exec(text.trim());
    if (share)
      return `${share[1]} of ${share[2]} does not say which levels: write each opportunity by its code, such as 1 1 2 (1 is ${names[0]}).`;
    const typedCodes = /\s/.test(text) ? text.split(/\s+/) : [...text];
    const levels = typedCodes.map((code) => names[Number(code) - 1]);
    const unknown = typedCodes.find((_, index) => levels[index] === undefined);
    return unknown === undefined
      ? { ...promptLevelsEntryFromMarks(levels as string[]) }
      : `“${unknown}” is none of the codes 1 to ${names.length}.`;
  },
};
