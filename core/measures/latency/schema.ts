import * as z from "zod/mini";
import { observedSeconds, seconds, wholeCount } from "../fields.ts";

export const latencyMeasure = z
  .object({
    kind: z.literal("latency"),
    report: z.enum(
      ["median", "mean", "within"],
      "Say what is reported: median, mean or how often within a time.",
    ),
    withinSeconds: z.optional(observedSeconds),
  })
  .check(
    z.refine(({ report, withinSeconds }) => report !== "within" || withinSeconds !== undefined, {
      path: ["withinSeconds"],
      message: "Within how many seconds?",
    }),
  );
export type LatencyMeasure = z.infer<typeof latencyMeasure>;

export const observed = z.object({
  delaysSeconds: z.array(seconds, "Give the delay after each signal.").check(z.maxLength(10_000)),
  noResponse: z.optional(wholeCount),
});
export const latencyEntry = z.extend(observed, { kind: z.literal("latency") });
export type LatencyEntry = z.infer<typeof latencyEntry>;

export const latencySchemas = { measure: latencyMeasure, observed, entry: latencyEntry };
