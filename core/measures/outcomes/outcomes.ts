import type * as z from "zod/mini";

import type { Kind } from "../kind.ts";
import { refused, type Scored, scored } from "../score.ts";
import type { OutcomesMeasure, OutcomesEntry, observed } from "./schema.ts";
import { otherOutcome } from "./other-outcome.ts";

export type { OutcomesMeasure, OutcomesEntry } from "./schema.ts";

/**
 * Scores a named outcome with the credit the school gives it, in percent; “other” is noted in words and has no credit.
 *
 * Source: graded credit for named outcomes, common practice; the credits are the school's own.
 */
export function scoreOutcomes({ outcomes }: OutcomesMeasure, { outcome }: z.infer<typeof observed>): Scored {
  if (outcome === otherOutcome)
    return scored(null, "percent", { why: { value: "another outcome is noted and not scored" } });
  const found = outcomes.find(({ id }) => id === outcome);
  return found
    ? scored(found.credit, "percent")
    : refused("outcome", `“${outcome}” is not one of this goal’s outcomes.`);
}

/** Named outcomes, each worth a given credit. */
export const outcomes: Kind<OutcomesMeasure, OutcomesEntry> = {
  score: scoreOutcomes,
  problems: (_, { outcome, note }) =>
    outcome === otherOutcome && !note?.trim()
      ? [{ field: "note", message: "Say in a few words what happened instead." }]
      : [],
  unit: () => "percent",
  line: ({ outcomes }, { outcome, note }, score, words) => {
    const found = outcomes.find(({ id }) => id === outcome);
    return found ? words.outcome(found.label ?? found.id, score.value ?? 0) : words.otherOutcome(note ?? "");
  },
};
