import * as z from "zod/mini";
import { moments, observedSeconds, wholeCount } from "../fields.ts";

export const countMeasure = z.object({
  kind: z.literal("count"),
  per: z.enum(
    ["observation", "minute", "hour"],
    "Say whether it is counted per observation, minute or hour.",
  ),
  /** What is counted, in the plural: "requests". */
  counted: z.optional(z.string().check(z.maxLength(60))),
});
export type CountMeasure = z.infer<typeof countMeasure>;

export const observed = z.object({ count: wholeCount, observedSeconds: z.optional(observedSeconds) });

/** `atSeconds` keeps the moment of each count. */
export const countEntry = z.extend(observed, { kind: z.literal("count"), atSeconds: moments });
export type CountEntry = z.infer<typeof countEntry>;

export const countSchemas = { measure: countMeasure, observed, entry: countEntry };
