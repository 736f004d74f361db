import * as z from "zod/mini";

/** What a measure makes of one entry. The same shape is stored with the entry and printed by `figures score`. */
export const scoreSchema = z.object({
  /** The figure itself, in `unit`; null where the method does not define one for this entry. */
  value: z.nullable(z.number()),
  unit: z.string(),
  /** The counts behind a percentage; null where the value is not a ratio of counts. */
  numerator: z.nullable(z.number()),
  denominator: z.nullable(z.number()),
  /** 95% Wilson interval in percent, `[low, high]`; only where the opportunities are a sample. */
  interval95: z.nullable(z.tuple([z.number(), z.number()])),
  detail: z.record(z.string(), z.unknown()),
  /** Field → why it is null. */
  why: z.optional(z.record(z.string(), z.string())),
});
export interface Score extends z.infer<typeof scoreSchema> {}
