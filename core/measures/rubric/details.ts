import { type KindDetails, plainDetails } from "../kind-details.ts";
import { criterionName, levelOf, levelWords } from "./rubric.ts";
import type { RubricMeasure, RubricEntry } from "./schema.ts";

export const rubricDetails: KindDetails<RubricMeasure, RubricEntry> = {
  ...plainDetails,
  partsCalled: ["criterion", "criteria"],
  creditedMeans: () => "of the points",
  parts: ({ criteria }, { levels }) =>
    criteria.flatMap((criterion) => {
      const level = levelOf(levels, criterion.id);
      return level === undefined
        ? []
        : [
            {
              part: criterionName(criterion),
              said: `${level} of ${criterion.max}`,
              credited: level,
              of: criterion.max,
            },
          ];
    }),
  sideFigures: () => [
    { figure: "points", label: "points in all", unit: "points", better: "increase" },
    { figure: "lowest", label: "lowest level of any criterion", unit: "points", better: "increase" },
  ],
  facts: ({ criteria }, { levels }) =>
    criteria.map((criterion) => {
      const level = levelOf(levels, criterion.id) ?? 0;
      const words = levelWords(criterion, level);
      return {
        label: criterionName(criterion),
        value: `${level} of ${criterion.max}${words ? `: ${words}` : ""}`,
      };
    }),
};
