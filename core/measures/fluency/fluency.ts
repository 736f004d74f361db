import type * as z from "zod/mini";
import type { Kind } from "../kind.ts";
import { refused, type Scored, scored } from "../score.ts";
import type { FluencyMeasure, FluencyEntry, observed } from "./schema.ts";

export type { FluencyMeasure, FluencyEntry } from "./schema.ts";

/**
 * Scores oral reading and other fluency probes: (attempted − errors) · 60 / seconds, per minute; `detail.accuracy` is
 * 100 · correct / attempted, in percent.
 *
 * @param entry `{attempted, errors, seconds}`, errors ≤ attempted, attempted ≥ 1, seconds > 0
 *
 * Source: words correct per minute of curriculum-based measurement; norms: Hasbrouck & Tindal (2017), Behavioral
 * Research & Teaching Technical Report 1702.
 *
 * @example scoreFluency({ attempted: 79, errors: 4, seconds: 60 }) // 75 per minute, accuracy 94.9
 */
export function scoreFluency({ attempted, errors, seconds }: z.infer<typeof observed>): Scored {
  if (attempted === 0) return refused("attempted", "Nothing was attempted, so nothing is saved.");
  if (errors > attempted)
    return refused("errors", `${errors} errors are more than the ${attempted} attempted.`);
  const correct = attempted - errors;
  return scored((correct * 60) / seconds, "per minute", {
    detail: { accuracy: (100 * correct) / attempted, errorsPerMinute: (errors * 60) / seconds },
  });
}

/** Correct responses a minute, and how accurate they were. */
export const fluency: Kind<FluencyMeasure, FluencyEntry> = {
  score: (_, entry) => scoreFluency(entry),
  unit: () => "per minute",
  line: ({ counted = "words" }, { attempted, errors, seconds }, score, words) =>
    words.fluency({
      ...{ counted, attempted, errors, seconds },
      perMinute: score.value ?? 0,
      accuracy: (100 * (attempted - errors)) / attempted,
    }),
};
