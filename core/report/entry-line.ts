import type { Score } from "../measures/score.ts";
import { percent, counts } from "../words/numbers.ts";

/** One entry as its reader will see it in the report: the figure in a sentence, then the note as it was written. */
export interface EntryLine {
  sentence: string;
  note: string | null;
}

export function entryLine(
  goalTitle: string,
  score: Pick<Score, "value" | "numerator" | "denominator">,
  note: string | null,
): EntryLine {
  const figure =
    score.value === null
      ? "not measured"
      : score.numerator !== null && score.denominator !== null
        ? `${counts(score.numerator, score.denominator)} correct (${percent(score.value)})`
        : percent(score.value);
  return { sentence: `${goalTitle}: ${figure}.`, note: note?.trim() || null };
}
