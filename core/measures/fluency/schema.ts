import * as z from "zod/mini";
import { observedSeconds, wholeCount } from "../fields.ts";
import { fluencyUnits } from "./units.ts";

export const fluencyMeasure = z.object({
  kind: z.literal("fluency"),
  /** What is read or written; words unless said otherwise. */
  counted: z.optional(z.enum(fluencyUnits)),
  /** How long one reading lasts. */
  plannedSeconds: z.optional(observedSeconds),
});
export type FluencyMeasure = z.infer<typeof fluencyMeasure>;

export const observed = z.object({ attempted: wholeCount, errors: wholeCount, seconds: observedSeconds });
export const fluencyEntry = z.extend(observed, { kind: z.literal("fluency") });
export type FluencyEntry = z.infer<typeof fluencyEntry>;

export const fluencySchemas = { measure: fluencyMeasure, observed, entry: fluencyEntry };
