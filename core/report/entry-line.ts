import { type Fact } from "../measures/kind.ts";
import { kindOf, type Measure, type ObservedEntry } from "../measures/measure.ts";
import type { Score } from "../measures/score.ts";

/** One entry as its reader will see it in the report: the figure in a sentence, then the note as it was written. */
export interface EntryLine {
  sentence: string;
  note: string | null;
}

/** An entry with the measure it was recorded for. */
export interface Recorded {
  measure: Measure;
  entry: ObservedEntry;
  score: Score;
}

/** The figure of an entry as its measure says it: "7 of 10 correct (70 %)". */
export function recordedWords({ measure, entry, score }: Recorded): string {
  return kindOf(measure).line(measure, entry, score);
}

/** Everything an entry holds beyond its line: each sub-skill, each bout, the order of the marks. */
export function recordedFacts({ measure, entry, score }: Recorded): Fact[] {
  return kindOf(measure).facts(measure, entry, score);
}

export function entryLine(goalTitle: string, recorded: Recorded, note: string | null): EntryLine {
  return { sentence: `${goalTitle}: ${recordedWords(recorded)}.`, note: note?.trim() || null };
}
