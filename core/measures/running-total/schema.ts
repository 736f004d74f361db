import * as z from "zod/mini";

export const runningTotalMeasure = z.object({
  kind: z.literal("running-total"),
  target: z
    .number("Give the target as a number.")
    .check(z.gt(0, "The target must be more than 0."), z.lte(10_000_000, "That is more than ten million.")),
  unit: z
    .string("Say what is added up.")
    .check(z.minLength(1, "Say what is added up."), z.maxLength(40, "At most 40 characters.")),
  /** When the total starts again from nothing; never unless it is said. */
  startsAgain: z.optional(z.enum(["week", "month"])),
});
export type RunningTotalMeasure = z.infer<typeof runningTotalMeasure>;

export const observed = z.object({
  amount: z
    .number("Give the amount as a number.")
    .check(z.gte(0, "An amount cannot be below 0."), z.lte(1_000_000, "That is more than a million.")),
});
export const runningTotalEntry = z.extend(observed, { kind: z.literal("running-total") });
export type RunningTotalEntry = z.infer<typeof runningTotalEntry>;

export const runningTotalSchemas = { measure: runningTotalMeasure, observed, entry: runningTotalEntry };
