import { entriesEn } from "../words/en/entries.ts";
import { judgeEntry, kindOf } from "../measures/kinds.ts";
import type { Measure, ObservedEntry } from "../measures/measure.ts";
import type { Problem } from "../measures/score.ts";
import type { Score } from "../measures/score-schema.ts";
import { isRunning, type Mark, secondsOn, standingMarks, stretches } from "../marks/mark.ts";
import { observedFrom } from "../measures/observed-from.ts";

/** What one panel of a sitting comes to. */
export type SheetReading =
  | { state: "empty" }
  | { state: "ready" | "not finished"; entry: ObservedEntry; score: Score; words: string }
  | { state: "problem"; problems: Problem[] };

/** Is something about these marks for a person to say before they are kept? */
export interface OpenQuestion {
  about: "fewer than planned" | "more than planned" | "open rows" | "running";
  words: string;
}

const rowsOf = (measure: Measure): readonly string[] =>
  measure.kind === "skills" ? measure.skills : measure.kind === "steps" ? measure.steps : [];

/** How many rows of a grid or chain are not marked yet; 0 for measures without. */
export function openRows(measure: Measure, marks: readonly Mark[]): number {
  const stand = standingMarks(marks);
  return rowsOf(measure).filter((_, index) => !stand.get(`row.${index}`)).length;
}

const opportunities = (marks: readonly Mark[]) =>
  marks.filter(({ on }) => on === "trial" || on === "level").length;

const notCounted = "shown, not counted toward the criterion";

/** Intervals or seconds of reading that fall short of the plan; null where they do not, or while a clock still runs. */
function shortWords(measure: Measure, marks: readonly Mark[]): string | null {
  if (measure.kind === "intervals" && measure.planned) {
    const observed = [...standingMarks(marks)].filter(
      ([on, value]) => on.startsWith("interval.") && value !== "",
    ).length;
    return observed > 0 && observed < measure.planned
      ? `${observed} of ${measure.planned} intervals: ${notCounted}`
      : null;
  }
  if (measure.kind !== "fluency" || !measure.plannedSeconds || isRunning(marks, "clock")) return null;
  const seconds = secondsOn(stretches(marks, "clock"), marks.at(-1)?.at ?? 0);
  return seconds > 0 && seconds < measure.plannedSeconds - 1
    ? `${Math.round(seconds)} of ${measure.plannedSeconds} seconds: ${notCounted}`
    : null;
}

/**
 * What would otherwise end in silence: opportunities that do not add up to the planned number, rows left open, a clock
 * that still runs. Null where nothing is to be asked.
 *
 * @param planned how many opportunities were planned, or null
 */
export function openQuestion(
  measure: Measure,
  marks: readonly Mark[],
  planned: number | null,
): OpenQuestion | null {
  const short = shortWords(measure, marks);
  if (short) return { about: "fewer than planned", words: short };
  if (marks.length === 0) return null;
  const open = openRows(measure, marks);
  if (open > 0 && open < rowsOf(measure).length)
    return {
      about: "open rows",
      words: `${open} of ${rowsOf(measure).length} ${measure.kind === "steps" ? "steps" : "rows"} not marked`,
    };
  const counted = opportunities(marks);
  if (planned !== null && counted > 0 && counted !== planned)
    return counted < planned
      ? { about: "fewer than planned", words: `${counted} of ${planned} planned: ${notCounted}` }
      : { about: "more than planned", words: `${counted - planned} more than the ${planned} planned` };
  if (isRunning(marks, "bout")) return { about: "running", words: "a bout still runs and ends now" };
  if (measure.kind !== "fluency" && isRunning(marks, "clock"))
    return { about: "running", words: "the clock still runs and stops now" };
  return null;
}

/** What is typed in a panel and is no number, or is not typed yet. */
function unread(measure: Measure, raw: Record<string, unknown>): Problem | null {
  if (measure.kind === "fluency" && !Number.isInteger(raw["attempted"]))
    return { field: "attempted", message: `How many ${measure.counted ?? "words"} were reached?` };
  if (measure.kind === "running-total" && !Number.isFinite(raw["amount"]))
    return { field: "amount", message: `Write the ${measure.unit} as a number.` };
  return null;
}

/**
 * Reads what a panel holds: the entry it would be kept as, with its score and its words, or what is missing.
 *
 * @param now milliseconds since 1970, where clocks that still run are read
 * @param chainEnded a chain with open steps that was not broken off: the open steps were not reached
 */
export function readSheet(
  measure: Measure,
  marks: readonly Mark[],
  now: number,
  chainEnded = false,
): SheetReading {
  const open = openRows(measure, marks);
  const finished = open === 0 || (measure.kind === "steps" && chainEnded);
  const raw = observedFrom(measure, marks, now, finished);
  if (raw === null) return { state: "empty" };
  const missing = unread(measure, raw);
  if (missing) return { state: "problem", problems: [missing] };
  // Made of marks, its shape is right; the server reads it by its schema all the same.
  const entry = raw as ObservedEntry;
  const judged = judgeEntry(measure, entry);
  if (!judged.ok) return { state: "problem", problems: judged.problems };
  return {
    state: finished ? "ready" : "not finished",
    entry,
    score: judged.score,
    words: kindOf(measure).line(measure, entry, judged.score, entriesEn),
  };
}
