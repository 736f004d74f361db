import { type KindDetails, plainDetails } from "../kind-details.ts";
import { otherOutcome } from "./other-outcome.ts";
import type { OutcomesMeasure, OutcomesEntry } from "./schema.ts";

export const outcomesDetails: KindDetails<OutcomesMeasure, OutcomesEntry> = {
  ...plainDetails,
  partsCalled: ["outcome", "outcomes"],
  creditedMeans: () => "of the times",
  parts: ({ outcomes }, { outcome }) => [
    ...outcomes.map(({ id, label }) => ({
      part: label ?? id,
      said: id === outcome ? "yes" : "",
      credited: id === outcome ? 1 : 0,
      of: 1,
    })),
    {
      part: otherOutcome,
      said: outcome === otherOutcome ? "yes" : "",
      credited: outcome === otherOutcome ? 1 : 0,
      of: 1,
    },
  ],
};
