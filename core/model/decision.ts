import * as z from "zod/mini";
import { decisionKinds } from "./decision-kinds.ts";

/** What was decided of a goal, or that it was taught as planned. */
export const decisionSchema = z.object({
  decisionId: z.uuid(),
  goalId: z.uuid(),
  authorId: z.uuid(),
  author: z.string(),
  kind: z.enum(decisionKinds),
  on: z.iso.date(),
  reason: z.string(),
  /** The phase that began with it. */
  phaseName: z.nullable(z.string()),
  /** What stood before each correction, the oldest first; `at` is `YYYY-MM-DD HH:MM` of the school. */
  earlier: z.array(
    z.object({
      on: z.string(),
      reason: z.string(),
      by: z.string(),
      at: z.string(),
      why: z.nullable(z.string()),
    }),
  ),
  removed: z.nullable(z.object({ by: z.string(), when: z.string() })),
});
export interface Decision extends z.infer<typeof decisionSchema> {}
