import type { Fact } from "../measures/kind.ts";
import { kindOf } from "../measures/kinds.ts";
import type { Measure, ObservedEntry } from "../measures/measure.ts";
import type { Circumstances, NotMeasuredReason } from "../model/entry.ts";
import type { Score } from "../measures/score-schema.ts";
import { shownValue } from "../words/amounts.ts";
import { fullMonth } from "../words/dates.ts";
import { counts } from "../words/numbers.ts";

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
function soFarWords({ measure, on, totalSoFar = null }: Recorded): string {
  if (measure.kind !== "running-total" || totalSoFar === null || on === undefined) return "";
  const { startsAgain, target } = measure;
  const period =
    startsAgain === "month"
      ? `${fullMonth(on)} so far`
      : startsAgain === "week"
        ? "that week so far"
        : "so far";
  return `; ${period} ${counts(shownValue(totalSoFar, ""), target)}`;
}

/** The figure of an entry as its measure says it, and what else was so: "7 of 10 correct (70%), support: gesture". */
export function recordedWords(recorded: Recorded): string {
  const { measure, entry, score, circumstances = {} } = recorded;
  const words = [
    kindOf(measure).line(measure, entry, score),
    ...(circumstances.support ? [`support: ${circumstances.support}`] : []),
    ...(circumstances.interrupted ? ["interrupted"] : []),
  ].join(", ");
  return `${words}${soFarWords(recorded)}`;
}

const notMeasuredWords: Record<NotMeasuredReason, string> = {
  refused: "not measured, refused",
  interrupted: "not measured, interrupted",
};

/** A goal that was to be measured and was not, as its reader will see it. */
export function notMeasuredLine(
  goalTitle: string,
  reason: NotMeasuredReason,
  note: string | null,
): EntryLine {
  return { sentence: `${goalTitle}: ${notMeasuredWords[reason]}.`, note: note?.trim() || null };
}

/** Everything an entry holds beyond its line: each sub-skill, each bout, the order of the marks. */
export function recordedFacts({ measure, entry, score }: Recorded): Fact[] {
  return kindOf(measure).facts(measure, entry, score);
}

/** An entry as a line of the report: its sentence, and the note as it was written. */
export function entryLine(goalTitle: string, recorded: Recorded, note: string | null): EntryLine {
  return { sentence: `${goalTitle}: ${recordedWords(recorded)}.`, note: note?.trim() || null };
}
