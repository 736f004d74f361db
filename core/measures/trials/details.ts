import { type KindDetails, plainDetails } from "../kind-details.ts";
import type { TrialsMeasure, TrialsEntry } from "./schema.ts";

export const trialsDetails: KindDetails<TrialsMeasure, TrialsEntry> = {
  ...plainDetails,
  facts: (_, { sequence }) =>
    sequence ? [{ label: "In order", value: sequence.replaceAll("1", "✓").replaceAll("0", "–") }] : [],
};
