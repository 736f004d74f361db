import * as z from "zod/mini";

/** What a person writes of a plan. Days are `YYYY-MM-DD`. */
export const planContentSchema = z.object({
  name: z.string(),
  /** What the person thinks is happening, in their words. */
  thinking: z.string(),
  /** What is tried from that day on. */
  trying: z.string(),
  beginsOn: z.iso.date(),
  /** The last day of the plan; null while it goes on. */
  endsOn: z.nullable(z.iso.date()),
});
export interface PlanContent extends z.infer<typeof planContentSchema> {}

/** Something tried with a student from a day on, and why. */
export const planSchema = z.extend(planContentSchema, {
  planId: z.uuid(),
  authorId: z.uuid(),
  author: z.string(),
  state: z.enum(["kept", "removed"]),
  revision: z.int(),
});
export interface Plan extends z.infer<typeof planSchema> {}
