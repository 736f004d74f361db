import * as z from "zod/mini";
import { label } from "../fields.ts";
import { otherOutcome } from "./other-outcome.ts";

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

export const observed = z.object({
  outcome: z.string("Which outcome was it?").check(z.minLength(1, "Which outcome was it?")),
  note: z.optional(z.string().check(z.maxLength(500, "At most 500 characters."))),
});
export const outcomesEntry = z.extend(observed, { kind: z.literal("outcomes") });
export type OutcomesEntry = z.infer<typeof outcomesEntry>;

export const outcomesSchemas = { measure: outcomesMeasure, observed, entry: outcomesEntry };
