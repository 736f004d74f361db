import { type KindDetails, plainDetails } from "../kind-details.ts";
import { creditedWords, isCredited } from "../ladder.ts";
import type { StepsMeasure, StepsEntry } from "./schema.ts";

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

export const stepsDetails: KindDetails<StepsMeasure, StepsEntry> = {
  ...plainDetails,
  partsCalled: ["step", "steps"],
  creditedMeans: creditedWords,
  parts: (measure, { marks }) =>
    measure.steps.flatMap((part, index) => {
      const said = marks[index];
      return said === null || said === undefined
        ? []
        : [{ part, said, credited: isCredited(measure, said) ? 1 : 0, of: 1 }];
    }),
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
