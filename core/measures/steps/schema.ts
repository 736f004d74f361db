import * as z from "zod/mini";
import { label, labels, mostParts } from "../fields.ts";
import { ladderFields, ladderHolds } from "../ladder-schema.ts";
import { teachings } from "./teachings.ts";

export const stepsMeasure = z
  .object({
    kind: z.literal("steps"),
    steps: labels("steps"),
    ...ladderFields,
    teaching: z.optional(z.enum(teachings)),
  })
  .check(ladderHolds());
export type StepsMeasure = z.infer<typeof stepsMeasure>;

export const observed = z.object({
  marks: z.array(z.nullable(label), "Mark each step in its order.").check(z.maxLength(mostParts)),
});

/** A chain broken off carries `finished: false`: its marks are kept and not scored, and it can be completed later. */
export const stepsEntry = z.extend(observed, {
  kind: z.literal("steps"),
  finished: z.optional(z.boolean()),
});
export type StepsEntry = z.infer<typeof stepsEntry>;

export const stepsSchemas = { measure: stepsMeasure, observed, entry: stepsEntry };
