import { lengthOfTime } from "../../words/amounts.ts";
import { type KindDetails, plainDetails } from "../kind-details.ts";
import type { DurationMeasure, DurationEntry } from "./schema.ts";

export const durationDetails: KindDetails<DurationMeasure, DurationEntry> = {
  ...plainDetails,
  sideFigures: () => [{ figure: "bouts", label: "bouts", unit: "count", better: "decrease" }],
  facts: (_, { boutsSeconds }) =>
    boutsSeconds.map((bout, index) => ({ label: `Bout ${index + 1}`, value: lengthOfTime(bout) })),
};
