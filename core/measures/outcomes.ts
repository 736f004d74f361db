import * as z from "zod/mini";
import { percent } from "../words/numbers.ts";
import { label } from "./fields.ts";
import { type Kind, plainKind } from "./kind.ts";
import { refused, type Scored, scored } from "./score.ts";

const otherOutcome = "other";

export const outcomesMeasure = z.object({
  kind: z.literal("outcomes"),
  outcomes: z
    .array(
      z.object({
        id: label.check(z.refine((id) => id !== otherOutcome, "“other” is always there and has no credit.")),
        label: z.optional(label),
        credit: z
          .number("Give a credit from 0 to 100.")
          .check(z.gte(0, "The credit is at least 0."), z.lte(100, "The credit is at most 100.")),
      }),
      "Name the outcomes.",
    )
    .check(
      z.minLength(1, "Name at least one outcome."),
      z.maxLength(30, "At most 30."),
      z.refine(
        (list) => new Set(list.map(({ id }) => id)).size === list.length,
        "Two outcomes have the same id.",
      ),
    ),
});
export type OutcomesMeasure = z.infer<typeof outcomesMeasure>;

const observed = z.object({
  outcome: z.string("Which outcome was it?").check(z.minLength(1, "Which outcome was it?")),
  note: z.optional(z.string().check(z.maxLength(500, "At most 500 characters."))),
});
export const outcomesEntry = z.extend(observed, { kind: z.literal("outcomes") });
export type OutcomesEntry = z.infer<typeof outcomesEntry>;

/**
 * Scores a named outcome with the credit the school gives it, in percent; “other” is noted in words and not scored.
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
  ...plainKind,
  name: "Named outcomes",
  when: "One of a few ways it can end, each worth a credit: full, with help, not at all.",
  measure: outcomesMeasure,
  observed,
  entry: outcomesEntry,
  score: scoreOutcomes,
  problems: (_, { outcome, note }) =>
    outcome === otherOutcome && !note?.trim()
      ? [{ field: "note", message: "Say in a few words what happened instead." }]
      : [],
  unit: () => "percent",
  partsCalled: ["outcome", "outcomes"],
  creditedMeans: () => "of the times",
  parts: ({ outcomes }, { outcome }) => [
    ...outcomes.map(({ id, label }) => ({
      part: label ?? id,
      said: id === outcome ? "yes" : "",
      credited: id === outcome ? 1 : 0,
      of: 1,
    })),
    ...(outcome === otherOutcome ? [{ part: otherOutcome, said: "yes", credited: 1, of: 1 }] : []),
  ],
  line: ({ outcomes }, { outcome, note }, score) => {
    const found = outcomes.find(({ id }) => id === outcome);
    return found
      ? `${found.label ?? found.id} (${percent(score.value ?? 0)} credit)`
      : `another outcome, not scored: ${note ?? ""}`;
  },
};
