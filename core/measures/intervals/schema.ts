import * as z from "zod/mini";
import { observedSeconds } from "../fields.ts";

export const intervalsMeasure = z.object({
  kind: z.literal("intervals"),
  method: z.enum(
    ["partial", "whole", "momentary"],
    "Say how an interval is scored: partial, whole or momentary.",
  ),
  intervalSeconds: observedSeconds,
  /** How many intervals one observation has. */
  planned: z.optional(
    z.int("Give a whole number.").check(z.gte(1, "At least 1."), z.lte(500, "At most 500.")),
  ),
});
export type IntervalsMeasure = z.infer<typeof intervalsMeasure>;

export const observed = z.object({
  marks: z
    .string("Mark each interval.")
    .check(z.regex(/^[01-]*$/, "Each interval is 1, 0 or - (not observed)."), z.maxLength(10_000)),
});
export const intervalsEntry = z.extend(observed, { kind: z.literal("intervals") });
export type IntervalsEntry = z.infer<typeof intervalsEntry>;

export const intervalsSchemas = { measure: intervalsMeasure, observed, entry: intervalsEntry };
