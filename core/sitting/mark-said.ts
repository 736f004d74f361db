import type { Measure } from "../measures/measure-schema.ts";
import { ladderMarks } from "../measures/ladder.ts";
import { otherOutcome } from "../measures/outcomes/other-outcome.ts";
import { criterionName } from "../measures/rubric/rubric.ts";
import { isRunning, type Mark, secondsBetween, standingMarks, stretches } from "../marks/mark.ts";
import { counts, plural } from "../words/numbers.ts";

/** The rows of a panel as they are named, and what a mark on one of them is called. */
function rowsOf(measure: Measure): { names: string[]; markOf: (value: string) => string } | null {
  switch (measure.kind) {
    case "steps":
    case "skills": {
      const marks = ladderMarks(measure);
      const names =
        measure.kind === "skills" ? measure.skills : measure.steps.map((_, index) => `step ${index + 1}`);
      return { names, markOf: (value) => marks[Number(value)] ?? "" };
    }
    case "checklist":
      return { names: measure.items, markOf: (value) => (value === "1" ? "known" : "not yet") };
    case "rubric":
      return { names: measure.criteria.map(criterionName), markOf: (value) => value };
    case "outcomes":
      return {
        names: ["outcome"],
        markOf: (value) => {
          const found = measure.outcomes[Number(value)];
          return value === otherOutcome ? "something else" : (found?.label ?? found?.id ?? "");
        },
      };
    default:
      return null;
  }
}

/**
 * What assistive technology says of the mark that was just made or undone: what it was, and where the panel stands with it.
 * Empty for what is typed, which is heard as it is typed.
 *
 * @param marks the marks of the panel now
 * @param before those that stood before
 * @param planned how many opportunities were planned, or null
 */
export function markSaid(
  measure: Measure,
  marks: readonly Mark[],
  before: readonly Mark[],
  planned: number | null,
): string {
  const isUndone = marks.length < before.length;
  const mark = (isUndone ? before : marks).at(-1);
  if (!mark) return "";
  const words = wordsOf(measure, mark, marks, planned);
  return isUndone && words !== "" ? `undone: ${words}` : words;
}

function wordsOf(
  measure: Measure,
  { at, on, value }: Mark,
  marks: readonly Mark[],
  planned: number | null,
): string {
  const of = (thing: string) => marks.filter((one) => one.on === thing);
  const [thing = "", place] = on.split(".");
  switch (thing) {
    case "trial": {
      const all = of("trial");
      const correct = all.filter((one) => one.value === "1").length;
      return `${value === "1" ? "correct" : "not yet"}, ${counts(correct, all.length)}`;
    }
    case "level": {
      const done = of("level").length;
      const level = "levels" in measure ? ladderMarks(measure)[Number(value)] : value;
      return `${level}, ${planned !== null && done <= planned ? `${planned - done} of ${planned} left` : `${done} so far`}`;
    }
    case "row": {
      const rows = rowsOf(measure);
      if (!rows) return "";
      const stand = standingMarks(marks);
      const open = rows.names.filter((_, index) => !stand.get(`row.${index}`)).length;
      const said = value === "" ? "no mark" : rows.markOf(value);
      const left = open === 0 ? "all marked" : `${open} of ${rows.names.length} left`;
      return `${rows.names[Number(place)]}, ${said}, ${left}`;
    }
    case "press":
      return `${of("press").length} so far`;
    case "error":
      return `${of("error").length} ${plural(of("error").length, "error")}`;
    case "bout": {
      const bouts = stretches(marks, "bout").length;
      return `${isRunning(marks, "bout") ? "a bout runs" : "stopped"}, ${bouts} ${plural(bouts, "bout")}`;
    }
    case "clock":
      return isRunning(marks, "clock") ? "clock running" : "clock stopped";
    case "signal":
      return "signal given";
    case "no response":
      return "no response";
    case "response": {
      const signal = marks.findLast((one) => one.on === "signal");
      return signal ? `response after ${secondsBetween(signal.at, at)} s` : "response";
    }
    case "interval":
      return `interval ${Number(place) + 1}, ${value === "1" ? "seen" : "not seen"}`;
    default:
      return "";
  }
}
