import { isMeasureKind, type Measure, type MeasureKind } from "#core/measures/measure.ts";
import { checklistSetUp } from "./checklist/set-up-form.ts";
import { countSetUp } from "./count/set-up-form.ts";
import { durationSetUp } from "./duration/set-up-form.ts";
import { fluencySetUp } from "./fluency/set-up-form.ts";
import { intervalsSetUp } from "./intervals/set-up-form.ts";
import { latencySetUp } from "./latency/set-up-form.ts";
import { outcomesSetUp } from "./outcomes/set-up-form.ts";
import { rubricSetUp } from "./rubric/set-up-form.ts";
import { runningTotalSetUp } from "./running-total/set-up-form.ts";
import { skillsSetUp } from "./skills/set-up-form.ts";
import { stepsSetUp } from "./steps/set-up-form.ts";
import { promptLevelsSetUp } from "./prompt-levels/set-up-form.ts";
import { trialsSetUp } from "./trials/set-up-form.ts";
import type { Values } from "./entry-form.ts";
import type { MeasureSetUp, MeasureSetUpOf } from "./set-up-form.ts";

/** How a measure of each kind stands in a set-up. */
const forms: { [Kind in MeasureKind]: MeasureSetUpOf<Kind> } = {
  trials: trialsSetUp,
  supports: promptLevelsSetUp,
  skills: skillsSetUp,
  checklist: checklistSetUp,
  steps: stepsSetUp,
  count: countSetUp,
  duration: durationSetUp,
  latency: latencySetUp,
  intervals: intervalsSetUp,
  fluency: fluencySetUp,
  rubric: rubricSetUp,
  outcomes: outcomesSetUp,
  "running-total": runningTotalSetUp,
};

/** What a set-up says of its measure, in the shape that `readMeasure` reads. */
export function rawMeasure(values: Values): Record<string, unknown> {
  const kind = values["kind"] ?? "";
  return { kind, ...(isMeasureKind(kind) ? forms[kind].read(values) : {}) };
}

/** The field of the form in which a field of the measure stands. */
export const fieldOfMeasure = (kind: string | undefined, field: string): string =>
  (isMeasureKind(kind) ? forms[kind].fieldOf?.[field] : undefined) ?? field;

/** The other way: a measure as the fields of its set-up. */
export const measureValues = (measure: Measure): Record<string, string> => ({
  kind: measure.kind,
  ...("planned" in measure && measure.planned ? { planned: String(measure.planned) } : {}),
  ...(forms[measure.kind] as MeasureSetUp<Measure>).write(measure),
});
