import * as z from "zod/mini";
import { label, labels } from "./fields.ts";
import type { Ladder } from "./ladder.ts";

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
