import * as z from "zod/mini";
import { label, wholeCount } from "../fields.ts";
import { ladderFields, ladderHolds } from "../ladder-schema.ts";

export const promptLevelsMeasure = z
  .object({
    kind: z.literal("supports"),
    ...ladderFields,
    /** Which misses are opportunities all the same; all of them unless the set-up leaves some out. */
    countMisses: z.optional(z.array(label)),
    planned: z.optional(
      z.int("Give a whole number.").check(z.gte(1, "At least 1."), z.lte(200, "At most 200.")),
    ),
  })
  .check(
    ladderHolds(),
    z.refine(({ misses, countMisses }) => countMisses?.every((miss) => misses.includes(miss)) ?? true, {
      path: ["countMisses"],
      message: "A miss that counts must be one of the misses.",
    }),
  );
export type PromptLevelsMeasure = z.infer<typeof promptLevelsMeasure>;

export const observed = z.object({
  counts: z.record(label, wholeCount, "Give a count for each prompt level."),
});

/** `sequence` keeps the levels in the order in which the opportunities fell. */
export const promptLevelsEntry = z.extend(observed, {
  kind: z.literal("supports"),
  sequence: z.optional(z.array(label).check(z.maxLength(1000))),
});
export type PromptLevelsEntry = z.infer<typeof promptLevelsEntry>;

export const promptLevelsSchemas = { measure: promptLevelsMeasure, observed, entry: promptLevelsEntry };
