import * as z from "zod/mini";
import { moments, observedSeconds, seconds } from "../fields.ts";

export const durationMeasure = z.object({
  kind: z.literal("duration"),
  report: z.enum(
    ["total", "mean", "longest", "share"],
    "Say which time is reported: total, mean, longest or share.",
  ),
});
export type DurationMeasure = z.infer<typeof durationMeasure>;

export const observed = z.object({
  boutsSeconds: z.array(seconds, "Give the length of each bout.").check(z.maxLength(10_000)),
  observedSeconds: z.optional(observedSeconds),
});

/** `startsSeconds` keeps the start of each bout. */
export const durationEntry = z.extend(observed, { kind: z.literal("duration"), startsSeconds: moments });
export type DurationEntry = z.infer<typeof durationEntry>;

export const durationSchemas = { measure: durationMeasure, observed, entry: durationEntry };
