import type { Rating } from "./compare-raters.ts";
import type { ObservedEntry } from "../measures/measure-schema.ts";
import { entriesEn, type EntryWords } from "../words/en/entries.ts";
import type { Score } from "../measures/score-schema.ts";

/** One scoring of a rubric: an entry, a second person's, or the student's own. */
export interface ScoredRubric {
  entry: ObservedEntry;
  score: Score;
  on: string;
  time: string;
  observerId: string;
  observer: string;
  /** Rated by the student. */
  own?: boolean;
}

/**
 * Scorings of a rubric as ratings: what is compared is the level of each criterion, what is averaged the percentage of all points. An
 * entry whose scorer was named in words is that person's, not the one's who saved it.
 */
export function rubricRatings(scored: readonly ScoredRubric[], words: EntryWords = entriesEn): Rating[] {
  return scored.flatMap(({ entry, score, on, time, observerId, observer, own = false }) =>
    entry.kind === "rubric" && score.value !== null
      ? {
          rater: entry.rater
            ? { id: `named ${entry.rater}`, name: entry.rater }
            : { id: observerId, name: observer },
          ...{ own, on, at: time, value: score.value, units: entry.levels },
          words: words.rubric(score, undefined),
        }
      : [],
  );
}
