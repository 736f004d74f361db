import type { Mark } from "../marks/mark.ts";
import { type FromMarks, markedOf } from "./from-marks.ts";
import type { Measure, MeasureKind } from "./measure-schema.ts";
import { trialsFromMarks } from "./trials/from-marks.ts";
import { promptLevelsFromMarks } from "./prompt-levels/from-marks.ts";
import { skillsFromMarks } from "./skills/from-marks.ts";
import { checklistFromMarks } from "./checklist/from-marks.ts";
import { stepsFromMarks } from "./steps/from-marks.ts";
import { countFromMarks } from "./count/from-marks.ts";
import { durationFromMarks } from "./duration/from-marks.ts";
import { latencyFromMarks } from "./latency/from-marks.ts";
import { intervalsFromMarks } from "./intervals/from-marks.ts";
import { fluencyFromMarks } from "./fluency/from-marks.ts";
import { rubricFromMarks } from "./rubric/from-marks.ts";
import { outcomesFromMarks } from "./outcomes/from-marks.ts";
import { runningTotalFromMarks } from "./running-total/from-marks.ts";

/** How the panel of each kind is read. */
const readers: { [Kind in MeasureKind]: FromMarks<Extract<Measure, { kind: Kind }>> } = {
  trials: trialsFromMarks,
  supports: promptLevelsFromMarks,
  skills: skillsFromMarks,
  checklist: checklistFromMarks,
  steps: stepsFromMarks,
  count: countFromMarks,
  duration: durationFromMarks,
  latency: latencyFromMarks,
  intervals: intervalsFromMarks,
  fluency: fluencyFromMarks,
  rubric: rubricFromMarks,
  outcomes: outcomesFromMarks,
  "running-total": runningTotalFromMarks,
};

/**
 * What the marks of a panel say was observed, in the shape that `readEntry` reads. The order of trials, the moment of
 * each count and the start of each bout come along; moments are seconds since the first mark.
 *
 * @param now milliseconds since 1970: clocks that still run are read here
 * @param finished false keeps a grid or chain that was broken off as *not finished*
 * @returns null where nothing is marked
 */
export function observedFrom(
  measure: Measure,
  marks: readonly Mark[],
  now: number,
  finished = true,
): Record<string, unknown> | null {
  const marked = markedOf(marks, now, finished);
  const read = readers[measure.kind] as FromMarks<Measure>;
  const observed = marked && read(measure, marked);
  return observed && { kind: measure.kind, ...observed };
}
