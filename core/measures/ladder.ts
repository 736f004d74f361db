import * as z from "zod/mini";
import { label, labels } from "./fields.ts";

/**
 * A prompt ladder as the school keeps it: levels from least to most help, the first of them independent; the misses that
 * stand beside it (no response, refused), kept as themselves; and the level up to which an opportunity is credited.
 */
export const ladderFields = {
  levels: labels("prompt levels"),
  misses: z._default(
    z.array(label).check(
      z.maxLength(20, "At most 20."),
      z.refine((list) => new Set(list).size === list.length, "Two of the misses have the same name."),
    ),
    [],
  ),
  credited: label,
};

interface Ladder {
  levels: string[];
  misses: string[];
  credited: string;
}

/** What must hold between the parts of a ladder. */
export function ladderHolds<T extends Ladder>() {
  return z.superRefine<T>(({ levels, misses, credited }, context) => {
    if (!levels.includes(credited))
      context.addIssue({
        code: "custom",
        path: ["credited"],
        message: `“${credited}” is not one of the prompt levels.`,
      });
    const both = misses.find((miss) => levels.includes(miss));
    if (both !== undefined)
      context.addIssue({
        code: "custom",
        path: ["misses"],
        message: `“${both}” is both a prompt level and a miss.`,
      });
  });
}

/** Is this mark at a level from the first through the credited one? */
export function isCredited({ levels, credited }: Ladder, mark: string | null | undefined): boolean {
  if (mark === null || mark === undefined) return false;
  const at = levels.indexOf(mark);
  return at !== -1 && at <= levels.indexOf(credited);
}

/** Is this mark a level or a miss of the ladder? */
export function isMark({ levels, misses }: Ladder, mark: string): boolean {
  return levels.includes(mark) || misses.includes(mark);
}

/** "independent", "verbal or less" */
export function creditedWords({ levels, credited }: Ladder): string {
  return levels[0] === credited ? credited : `${credited} or less help`;
}
