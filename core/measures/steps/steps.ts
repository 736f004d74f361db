import type * as z from "zod/mini";
import type { Kind } from "../kind.ts";
import { creditedOf, isCredited, isMark } from "../ladder.ts";
import { refused, type Scored, scored, scoredShare } from "../score.ts";
import type { StepsMeasure, StepsEntry, observed } from "./schema.ts";

export type { StepsMeasure, StepsEntry } from "./schema.ts";

/**
 * Scores a task analysis: 100 · credited steps / steps, in percent. A step not reached (`null`) is not credited.
 * `detail.firstNotCredited` is the 0-based index of the first step that is not, or null when all are.
 *
 * @param measure the steps in their order and the ladder
 * @param entry `{marks}`, one level, miss or null for each step
 *
 * Source: percentage of steps independent, Cooper, Heron & Heward, Applied Behavior Analysis (from memory). A chain is
 * no sample of anything: no interval.
 */
export function scoreSteps(
  measure: StepsMeasure,
  { marks, finished }: z.infer<typeof observed> & { finished?: boolean | undefined },
): Scored {
  const { steps } = measure;
  if (marks.length !== steps.length)
    return refused("marks", `There are ${marks.length} marks for ${steps.length} steps.`);
  const unknown = marks.find((mark) => mark !== null && !isMark(measure, mark));
  if (unknown !== undefined) return refused("marks", `“${unknown}” is no prompt level of this goal.`);
  const marked = marks.filter((mark) => mark !== null).length;
  if (marked === 0) return refused("marks", "Nothing is marked yet.");
  if (finished === false && marked < steps.length)
    return scored(null, "percent", {
      detail: { marked, steps: steps.length },
      why: { value: "not finished" },
    });
  const firstNotCredited = marks.findIndex((mark) => !isCredited(measure, mark));
  return scoredShare(marks.filter((mark) => isCredited(measure, mark)).length, steps.length, {
    detail: { firstNotCredited: firstNotCredited === -1 ? null : firstNotCredited },
  });
}

/** A task analysis: a chain of steps, each marked with one prompt level. */
export const steps: Kind<StepsMeasure, StepsEntry> = {
  score: scoreSteps,
  unit: () => "percent",
  line: (measure, { marks }, score, words) => {
    const marked = marks.filter((mark) => mark !== null).length;
    if (score.value === null) return words.stepsOpen(marked, measure.steps.length);
    const first = marks.findIndex((mark) => !isCredited(measure, mark));
    const name = measure.steps[first];
    return words.steps(score, creditedOf(measure), name === undefined ? null : { place: first + 1, name });
  },
};
