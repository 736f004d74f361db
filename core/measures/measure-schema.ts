import * as z from "zod/mini";
import { checklistSchemas } from "./checklist/schema.ts";
import { countSchemas } from "./count/schema.ts";
import { durationSchemas } from "./duration/schema.ts";
import { fluencySchemas } from "./fluency/schema.ts";
import { intervalsSchemas } from "./intervals/schema.ts";
import { latencySchemas } from "./latency/schema.ts";
import { outcomesSchemas } from "./outcomes/schema.ts";
import { rubricSchemas } from "./rubric/schema.ts";
import { runningTotalSchemas } from "./running-total/schema.ts";
import { skillsSchemas } from "./skills/schema.ts";
import { stepsSchemas } from "./steps/schema.ts";
import { promptLevelsSchemas } from "./prompt-levels/schema.ts";
import { trialsSchemas } from "./trials/schema.ts";

/** How a goal is measured. One member for each kind, told apart by `kind`. */
export const measureSchema = z.discriminatedUnion("kind", [
  trialsSchemas.measure,
  promptLevelsSchemas.measure,
  skillsSchemas.measure,
  checklistSchemas.measure,
  stepsSchemas.measure,
  countSchemas.measure,
  durationSchemas.measure,
  latencySchemas.measure,
  intervalsSchemas.measure,
  fluencySchemas.measure,
  rubricSchemas.measure,
  outcomesSchemas.measure,
  runningTotalSchemas.measure,
]);
export type Measure = z.infer<typeof measureSchema>;
export type MeasureKind = Measure["kind"];

/** What was observed, in the shape of its measure. */
export const entrySchema = z.discriminatedUnion("kind", [
  trialsSchemas.entry,
  promptLevelsSchemas.entry,
  skillsSchemas.entry,
  checklistSchemas.entry,
  stepsSchemas.entry,
  countSchemas.entry,
  durationSchemas.entry,
  latencySchemas.entry,
  intervalsSchemas.entry,
  fluencySchemas.entry,
  rubricSchemas.entry,
  outcomesSchemas.entry,
  runningTotalSchemas.entry,
]);
export type ObservedEntry = z.infer<typeof entrySchema>;
