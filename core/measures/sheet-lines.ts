import type { Measure, MeasureKind } from "./measure-schema.ts";
import type { SheetLine } from "./sheet-line.ts";
import { trialsLine } from "./trials/sheet-line.ts";
import { promptLevelsLine } from "./prompt-levels/sheet-line.ts";
import { skillsLine } from "./skills/sheet-line.ts";
import { checklistLine } from "./checklist/sheet-line.ts";
import { stepsLine } from "./steps/sheet-line.ts";
import { countLine } from "./count/sheet-line.ts";
import { durationLine } from "./duration/sheet-line.ts";
import { latencyLine } from "./latency/sheet-line.ts";
import { intervalsLine } from "./intervals/sheet-line.ts";
import { fluencyLine } from "./fluency/sheet-line.ts";
import { rubricLine } from "./rubric/sheet-line.ts";
import { outcomesLine } from "./outcomes/sheet-line.ts";
import { runningTotalLine } from "./running-total/sheet-line.ts";

/** The data sheet of each kind. */
const lines: { [Kind in MeasureKind]: SheetLine<Extract<Measure, { kind: Kind }>> } = {
  trials: trialsLine,
  supports: promptLevelsLine,
  skills: skillsLine,
  checklist: checklistLine,
  steps: stepsLine,
  count: countLine,
  duration: durationLine,
  latency: latencyLine,
  intervals: intervalsLine,
  fluency: fluencyLine,
  rubric: rubricLine,
  outcomes: outcomesLine,
  "running-total": runningTotalLine,
};
const lineOf = ({ kind }: Measure) => lines[kind] as SheetLine<Measure>;

export type TypedLine = { ok: true; raw: Record<string, unknown> } | { ok: false; message: string };

/** The legend of a measure's codes, as a data sheet prints it: code and what it stands for. */
export const sheetCodes = (measure: Measure): { code: string; means: string }[] =>
  lineOf(measure).codes(measure);

/** The columns that a data sheet has for one observation of a measure: its parts in their order, or numbered places. */
export const sheetColumns = (measure: Measure): string[] => lineOf(measure).columns(measure);

/** How an observation of this measure is typed in one line: an example, and what it says. */
export const typedLineHint = (measure: Measure): string => lineOf(measure).hint(measure);

/**
 * Reads one observation as it is copied from a data sheet: one line, in the codes that the sheet prints. What it yields is
 * the shape that `readEntry` reads.
 *
 * @returns the entry, or one sentence that says how to write it
 *
 * @example readTypedLine({ kind: "trials" }, "7/10") // {kind: "trials", correct: 7, attempted: 10}
 * @example readTypedLine({ kind: "count", per: "hour" }, "12 in 20 min") // {kind: "count", count: 12, observedSeconds: 1200}
 */
export function readTypedLine(measure: Measure, typed: string): TypedLine {
  const line = lineOf(measure);
  const read = line.read(measure, typed.trim());
  if (read === null) return { ok: false, message: `Write ${line.hint(measure)}.` };
  return typeof read === "string"
    ? { ok: false, message: read }
    : { ok: true, raw: { kind: measure.kind, ...read } };
}
