import * as z from "zod/mini";
import type { Problem, Scored } from "./score.ts";
import { wilsonInterval } from "./wilson-interval.ts";

/** Discrete trials: each opportunity is credited or not. */
export const trialsMeasure = z.object({
  kind: z.literal("trials"),
  planned: z.optional(z.int().check(z.gte(1), z.lte(200))),
});
export type TrialsMeasure = z.infer<typeof trialsMeasure>;

const wholeCount = z
  .int("Give a whole number.")
  .check(z.gte(0, "A count cannot be below 0."), z.lte(10_000, "That is more than 10,000."));

/** `sequence` keeps the order in which the trials fell, `1` credited and `0` not; scores ignore it. */
export const trialsEntry = z.object({
  kind: z.literal("trials"),
  correct: wholeCount,
  attempted: wholeCount,
  sequence: z.optional(z.string().check(z.regex(/^[01]*$/, "The marks must be 1 or 0."))),
  support: z.optional(z.string().check(z.maxLength(60))),
});
export type TrialsEntry = z.infer<typeof trialsEntry>;

const counts = z.object({ correct: wholeCount, attempted: wholeCount });

/**
 * Scores trials: 100 · correct / attempted, in percent.
 *
 * @param entry `{correct, attempted}`, whole numbers, 0 ≤ correct ≤ attempted, attempted ≥ 1
 * @returns the score, or the problems with the entry, each naming its field
 *
 * Source: percentage of opportunities, common practice; interval: Wilson (1927).
 *
 * @example scoreTrials({ correct: 7, attempted: 10 }) // 70 percent, 7 of 10
 */
export function scoreTrials(entry: unknown): Scored {
  const parsed = counts.safeParse(entry);
  if (!parsed.success)
    return {
      ok: false,
      problems: parsed.error.issues.map((issue) => ({ field: issue.path.join("."), message: issue.message })),
    };
  const { correct, attempted } = parsed.data;
  const problems: Problem[] = [];
  if (attempted === 0)
    problems.push({
      field: "attempted",
      message: "There were no opportunities: nothing measured is nothing stored.",
    });
  if (correct > attempted)
    problems.push({
      field: "correct",
      message: `${correct} correct is more than the ${attempted} attempted.`,
    });
  if (problems.length > 0) return { ok: false, problems };
  const [low, high] = wilsonInterval(correct, attempted);
  return {
    ok: true,
    score: {
      value: (100 * correct) / attempted,
      unit: "percent",
      numerator: correct,
      denominator: attempted,
      interval95: [100 * low, 100 * high],
      detail: {},
    },
  };
}

/** The marks of a recording panel, in order, as an entry. */
export function trialsEntryFromMarks(marks: readonly boolean[]): TrialsEntry {
  return {
    kind: "trials",
    correct: marks.filter(Boolean).length,
    attempted: marks.length,
    sequence: marks.map((mark) => (mark ? "1" : "0")).join(""),
  };
}

/** Problems a score does not see: marks that do not add up to the counts beside them. */
export function sequenceProblems(entry: TrialsEntry): Problem[] {
  if (!entry.sequence) return [];
  const credited = entry.sequence.replaceAll("0", "").length;
  if (entry.sequence.length === entry.attempted && credited === entry.correct) return [];
  return [
    {
      field: "sequence",
      message: `The marks say ${credited} of ${entry.sequence.length}, the counts ${entry.correct} of ${entry.attempted}.`,
    },
  ];
}
