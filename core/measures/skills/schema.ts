import * as z from "zod/mini";
import { label, labels } from "../fields.ts";
import { ladderFields, ladderHolds } from "../ladder-schema.ts";

export const skillsMeasure = z
  .object({ kind: z.literal("skills"), skills: labels("skills"), ...ladderFields })
  .check(ladderHolds());
export type SkillsMeasure = z.infer<typeof skillsMeasure>;

export const observed = z.object({ marks: z.record(label, label, "Mark each skill.") });

/** A grid broken off carries `finished: false`: its marks are kept and not scored, and it can be completed later. */
export const skillsEntry = z.extend(observed, {
  kind: z.literal("skills"),
  finished: z.optional(z.boolean()),
});
export type SkillsEntry = z.infer<typeof skillsEntry>;

export const skillsSchemas = { measure: skillsMeasure, observed, entry: skillsEntry };
