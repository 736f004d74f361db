import * as z from "zod/mini";
import { label, wholeCount } from "../fields.ts";

export const rubricMeasure = z.object({
  kind: z.literal("rubric"),
  criteria: z
    .array(
      z
        .object({
          id: label,
          label: z.optional(label),
          max: z.int("Give a whole number.").check(z.gte(1, "At least 1."), z.lte(20, "At most 20.")),
          /** What each level means in words, from level 0 or 1 up to the highest. */
          levels: z.optional(z.array(z.string().check(z.maxLength(500))).check(z.maxLength(21))),
        })
        .check(
          z.refine(({ levels, max }) => levels === undefined || levels.length <= max + 1, {
            path: ["levels"],
            message: "There are more level descriptions than levels.",
          }),
        ),
      "Name the criteria.",
    )
    .check(
      z.minLength(1, "Name at least one criterion."),
      z.maxLength(50, "At most 50."),
      z.refine(
        (list) => new Set(list.map(({ id }) => id)).size === list.length,
        "Two criteria have the same id.",
      ),
    ),
});
export type RubricMeasure = z.infer<typeof rubricMeasure>;

export const observed = z.object({ levels: z.record(label, wholeCount, "Give a level for each criterion.") });

/** `rater` names who scored the work when that is not the person who saved it; raters are kept apart. */
export const rubricEntry = z.extend(observed, {
  kind: z.literal("rubric"),
  rater: z.optional(z.string().check(z.maxLength(100))),
});
export type RubricEntry = z.infer<typeof rubricEntry>;

export const rubricSchemas = { measure: rubricMeasure, observed, entry: rubricEntry };
