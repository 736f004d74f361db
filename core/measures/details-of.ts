import { checklistDetails } from "./checklist/details.ts";
import { durationDetails } from "./duration/details.ts";
import { fluencyDetails } from "./fluency/details.ts";
import { intervalsDetails } from "./intervals/details.ts";
import { latencyDetails } from "./latency/details.ts";
import { outcomesDetails } from "./outcomes/details.ts";
import { promptLevelsDetails } from "./prompt-levels/details.ts";
import { rubricDetails } from "./rubric/details.ts";
import { skillsDetails } from "./skills/details.ts";
import { stepsDetails } from "./steps/details.ts";
import { trialsDetails } from "./trials/details.ts";
import { type KindDetails, plainDetails } from "./kind-details.ts";
import type { Measure, MeasureKind, ObservedEntry } from "./measure-schema.ts";

const details: Record<MeasureKind, KindDetails<Measure, ObservedEntry>> = {
  trials: trialsDetails,
  supports: promptLevelsDetails,
  skills: skillsDetails,
  checklist: checklistDetails,
  steps: stepsDetails,
  count: plainDetails,
  duration: durationDetails,
  latency: latencyDetails,
  intervals: intervalsDetails,
  fluency: fluencyDetails,
  rubric: rubricDetails,
  outcomes: outcomesDetails,
  "running-total": plainDetails,
};

/** What is known of a measure beyond recording. Apart from its kind, since no recording screen needs it. */
export const detailsOf = (measure: Measure): KindDetails<Measure, ObservedEntry> => details[measure.kind];
