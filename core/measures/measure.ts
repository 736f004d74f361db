import * as z from "zod/mini";
import type { Problem, Score, Scored } from "./score.ts";
import { scoreTrials, sequenceProblems, trialsEntry, trialsMeasure } from "./trials.ts";

/** How a goal is measured. One member for each kind, told apart by `kind`. */
export const measureSchema = z.discriminatedUnion("kind", [trialsMeasure]);
export type Measure = z.infer<typeof measureSchema>;

/** What was observed, in the shape of its measure. */
export const entrySchema = z.discriminatedUnion("kind", [trialsEntry]);
export type ObservedEntry = z.infer<typeof entrySchema>;

const scorers: Record<Measure["kind"], (entry: unknown) => Scored> = { trials: scoreTrials };

export function isMeasureKind(kind: unknown): kind is Measure["kind"] {
  return typeof kind === "string" && Object.hasOwn(scorers, kind);
}

/** The score of one entry under a measure of this kind, or what is wrong with it. Units: those of the measure. */
export function scoreEntry(kind: Measure["kind"], entry: unknown): Scored {
  return scorers[kind](entry);
}

/**
 * Reads and scores an entry from outside (a form, an import, a file).
 *
 * @returns the entry in the shape that is stored, with its score; or the problems, each naming its field
 */
export function readEntry(
  measure: Measure,
  raw: unknown,
): { ok: true; entry: ObservedEntry; score: Score } | { ok: false; problems: Problem[] } {
  const parsed = entrySchema.safeParse(raw);
  if (!parsed.success)
    return {
      ok: false,
      problems: parsed.error.issues.map((issue) => ({ field: issue.path.join("."), message: issue.message })),
    };
  const scored = scoreEntry(measure.kind, parsed.data);
  if (!scored.ok) return scored;
  const problems = sequenceProblems(parsed.data);
  return problems.length > 0
    ? { ok: false, problems }
    : { ok: true, entry: parsed.data, score: scored.score };
}
