import type * as z from "zod/mini";
import type { Kind } from "../kind.ts";
import { type Problem, refused, type Scored, scoredShare } from "../score.ts";
import { wilsonPercent } from "../wilson-interval.ts";
import type { TrialsMeasure, TrialsEntry, observed } from "./schema.ts";

export type { TrialsMeasure, TrialsEntry } from "./schema.ts";

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
export function scoreTrials({ correct, attempted }: z.infer<typeof observed>): Scored {
  if (attempted === 0) return refused("attempted", "There were no opportunities, so nothing is saved.");
  if (correct > attempted)
    return refused("correct", `${correct} correct is more than the ${attempted} attempted.`);
  return scoredShare(correct, attempted, { interval95: wilsonPercent(correct, attempted) });
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

function sequenceProblems(entry: TrialsEntry): Problem[] {
  if (!entry.sequence) return [];
  const credited = entry.sequence.replaceAll("0", "").length;
  if (entry.sequence.length === entry.attempted && credited === entry.correct) return [];
  return [
    {
      field: "sequence",
      message: "The marks in order and the counts do not agree.",
    },
  ];
}

/** Discrete trials: each opportunity is credited or not. */
export const trials: Kind<TrialsMeasure, TrialsEntry> = {
  score: (_, entry) => scoreTrials(entry),
  problems: (_, entry) => sequenceProblems(entry),
  unit: () => "percent",
  line: (_, __, score, words) => words.trials(score),
};
