import type * as z from "zod/mini";
import type { Kind } from "../kind.ts";
import { type Scored, scored } from "../score.ts";
import type { RunningTotalMeasure, RunningTotalEntry, observed } from "./schema.ts";

export type { RunningTotalMeasure, RunningTotalEntry } from "./schema.ts";

/**
 * Scores one addition to a running total: the amount itself, in the measure's own unit.
 *
 * Source: cumulative record of amounts towards a target, common practice.
 */
export function scoreRunningTotal(
  { unit }: Pick<RunningTotalMeasure, "unit">,
  { amount }: z.infer<typeof observed>,
): Scored {
  return scored(amount, unit);
}

/** Amounts that add up towards a target. */
export const runningTotal: Kind<RunningTotalMeasure, RunningTotalEntry> = {
  score: scoreRunningTotal,
  unit: ({ unit }) => unit,
  line: ({ unit }, { amount }, _, words) => words.runningTotal(amount, unit),
};
