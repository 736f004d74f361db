import type * as z from "zod/mini";
import { type Kind, plainKind } from "../kind.ts";
import { creditedOf, creditedWords, isCredited, isMark } from "../ladder.ts";
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

/**
 * The step that is taught now: in forward chaining the first that is not yet credited, in backward chaining the last;
 * with the total task all are. Null when every step is credited.
 *
 * Source: Cooper, Heron & Heward, Applied Behavior Analysis (from memory).
 */
export function taughtStep(measure: StepsMeasure, { marks }: Pick<StepsEntry, "marks">): number | null {
  if (measure.teaching === "total-task" || measure.teaching === undefined) return null;
  const open = marks.flatMap((mark, index) => (isCredited(measure, mark) ? [] : [index]));
  return (measure.teaching === "forward" ? open[0] : open.at(-1)) ?? null;
}

const teachingWords = {
  forward: "forward chaining",
  backward: "backward chaining",
  "total-task": "total task",
};

/** A task analysis: a chain of steps, each marked with one prompt level. */
export const steps: Kind<StepsMeasure, StepsEntry> = {
  ...plainKind,
  score: scoreSteps,
  unit: () => "percent",
  partsCalled: ["step", "steps"],
  creditedMeans: creditedWords,
  parts: (measure, { marks }) =>
    measure.steps.flatMap((part, index) => {
      const said = marks[index];
      return said === null || said === undefined
        ? []
        : [{ part, said, credited: isCredited(measure, said) ? 1 : 0, of: 1 }];
    }),
  line: (measure, { marks }, score, words) => {
    const marked = marks.filter((mark) => mark !== null).length;
    if (score.value === null) return words.stepsOpen(marked, measure.steps.length);
    const first = marks.findIndex((mark) => !isCredited(measure, mark));
    const name = measure.steps[first];
    return words.steps(score, creditedOf(measure), name === undefined ? null : { place: first + 1, name });
  },
  facts: (measure, entry) => {
    const taught = taughtStep(measure, entry);
    return [
      ...measure.steps.map((step, index) => ({
        label: `${index + 1}. ${step}`,
        value: entry.marks[index] ?? "not reached",
      })),
      ...(measure.teaching
        ? [
            {
              label: "Teaching",
              value: `${teachingWords[measure.teaching]}${taught === null ? "" : `; next to teach: ${taught + 1}, ${measure.steps[taught]}`}`,
            },
          ]
        : []),
    ];
  },
};
