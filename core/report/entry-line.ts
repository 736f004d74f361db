import { kindOf } from "../measures/kinds.ts";
import type { Measure, ObservedEntry } from "../measures/measure.ts";
import type { Circumstances, NotMeasuredReason } from "../model/entry.ts";
import type { Score } from "../measures/score-schema.ts";
import { shownValue } from "../words/amounts.ts";
import { type EntryWords, entriesEn } from "../words/en/entries.ts";

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
  circumstances?: Circumstances;
  /** Of a running total: the day, and what has come together in its week or month by this entry. */
  on?: string;
  totalSoFar?: number | null;
}

/** "; November so far 270 of 300" */
function soFarWords({ measure, on, totalSoFar = null }: Recorded, words: EntryWords): string {
  if (measure.kind !== "running-total" || totalSoFar === null || on === undefined) return "";
  return `; ${words.soFar(on, measure.startsAgain, shownValue(totalSoFar, ""), measure.target)}`;
}

/** The figure of an entry as its measure says it, and what else was so: "7 of 10 correct (70%), support: gesture". */
export function recordedWords(recorded: Recorded, words: EntryWords = entriesEn): string {
  const { measure, entry, score, circumstances = {} } = recorded;
  const line = [
    kindOf(measure).line(measure, entry, score, words),
    ...(circumstances.support ? [words.support(circumstances.support)] : []),
    ...(circumstances.interrupted ? [words.interrupted()] : []),
  ].join(", ");
  return `${line}${soFarWords(recorded, words)}`;
}

/** A goal that was to be measured and was not, as its reader will see it. */
export function notMeasuredLine(
  goalTitle: string,
  reason: NotMeasuredReason,
  note: string | null,
  words: EntryWords = entriesEn,
): EntryLine {
  return { sentence: `${goalTitle}: ${words.notMeasured(reason)}.`, note: note?.trim() || null };
}

/** An entry as a line of the report: its sentence, and the note as it was written. */
export function entryLine(
  goalTitle: string,
  recorded: Recorded,
  note: string | null,
  words: EntryWords = entriesEn,
): EntryLine {
  return { sentence: `${goalTitle}: ${recordedWords(recorded, words)}.`, note: note?.trim() || null };
}
