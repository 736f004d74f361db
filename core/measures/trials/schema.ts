import * as z from "zod/mini";
import { wholeCount } from "../fields.ts";

export const trialsMeasure = z.object({
  kind: z.literal("trials"),
  /** How many opportunities one probe has. */
  planned: z.optional(
    z.int("Give a whole number.").check(z.gte(1, "At least 1."), z.lte(200, "At most 200.")),
  ),
});
export type TrialsMeasure = z.infer<typeof trialsMeasure>;

export const observed = z.object({ correct: wholeCount, attempted: wholeCount });

/** `sequence` keeps the order in which the trials fell, `1` credited and `0` not. */
export const trialsEntry = z.extend(observed, {
  kind: z.literal("trials"),
  sequence: z.optional(z.string().check(z.regex(/^[01]*$/, "The marks must be 1 or 0."))),
  support: z.optional(z.string().check(z.maxLength(60))),
});
export type TrialsEntry = z.infer<typeof trialsEntry>;

export const trialsSchemas = { measure: trialsMeasure, observed, entry: trialsEntry };
