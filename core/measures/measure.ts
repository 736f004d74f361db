import * as z from "zod/mini";
import type { KindSchemas } from "./kind.ts";
import { judgeEntry, kindOf, kinds } from "./kinds.ts";
import { checklistSchemas } from "./checklist-schema.ts";
import { countSchemas } from "./count-schema.ts";
import { durationSchemas } from "./duration-schema.ts";
import { fluencySchemas } from "./fluency-schema.ts";
import { intervalsSchemas } from "./intervals-schema.ts";
import { latencySchemas } from "./latency-schema.ts";
import { outcomesSchemas } from "./outcomes-schema.ts";
import { rubricSchemas } from "./rubric-schema.ts";
import { runningTotalSchemas } from "./running-total-schema.ts";
import { skillsSchemas } from "./skills-schema.ts";
import { stepsSchemas } from "./steps-schema.ts";
import { supportsSchemas } from "./supports-schema.ts";
import { trialsSchemas } from "./trials-schema.ts";
import { type Problem, problemsFrom, refused, type Score, type Scored } from "./score.ts";

/** How a goal is measured. One member for each kind, told apart by `kind`. */
export const measureSchema = z.discriminatedUnion("kind", [
  trialsSchemas.measure,
  supportsSchemas.measure,
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
  supportsSchemas.entry,
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

const schemas: Record<MeasureKind, KindSchemas<Measure, ObservedEntry>> = {
  trials: trialsSchemas,
  supports: supportsSchemas,
  skills: skillsSchemas,
  checklist: checklistSchemas,
  steps: stepsSchemas,
  count: countSchemas,
  duration: durationSchemas,
  latency: latencySchemas,
  intervals: intervalsSchemas,
  fluency: fluencySchemas,
  rubric: rubricSchemas,
  outcomes: outcomesSchemas,
  "running-total": runningTotalSchemas,
};

export { kindOf, kinds, measureKinds, unitOf } from "./kinds.ts";

export function isMeasureKind(kind: unknown): kind is MeasureKind {
  return typeof kind === "string" && Object.hasOwn(kinds, kind);
}

/** Reads a measure from outside; the problems name the fields of the measure. */
export function readMeasure(
  raw: unknown,
): { ok: true; measure: Measure } | { ok: false; problems: Problem[] } {
  const kind = typeof raw === "object" && raw !== null && "kind" in raw ? raw.kind : undefined;
  if (!isMeasureKind(kind)) return refused("kind", "Choose how the goal is measured.");
  const parsed = schemas[kind].measure.safeParse(raw);
  return parsed.success
    ? { ok: true, measure: parsed.data }
    : { ok: false, problems: problemsFrom(parsed.error) };
}

/** The score of what was observed, whatever more the entry carries. Units: those of the measure. */
export function scoreEntry(measure: Measure, entry: object): Scored {
  const parsed = schemas[measure.kind].observed.safeParse(entry);
  if (!parsed.success) return { ok: false, problems: problemsFrom(parsed.error) };
  return kindOf(measure).score(measure, parsed.data as ObservedEntry);
}

/**
 * Reads and scores an entry from outside (a form, an import, a file).
 *
 * @returns the entry in the shape that is stored, with its score; or the problems, each naming its field
 */
export function readEntry(
  measure: Measure,
  raw: unknown,
): { ok: true; entry: ObservedEntry; score: Score } | { ok: false; problems: Problem[] } {
  if (typeof raw === "object" && raw !== null && "kind" in raw && raw.kind !== measure.kind)
    return refused("form", "This goal is measured in another way now. Please open it again.");
  const parsed = schemas[measure.kind].entry.safeParse(raw);
  if (!parsed.success) return { ok: false, problems: problemsFrom(parsed.error) };
  const judged = judgeEntry(measure, parsed.data);
  return judged.ok ? { ok: true, entry: parsed.data, score: judged.score } : judged;
}
