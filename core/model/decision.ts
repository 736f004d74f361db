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
  revision: z.int(),
  removed: z.nullable(z.object({ by: z.string(), when: z.string() })),
});
export interface Decision extends z.infer<typeof decisionSchema> {}
