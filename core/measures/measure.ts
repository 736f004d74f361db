import type { KindSchemas } from "./kind.ts";
import { judgeEntry, kindOf, kinds } from "./kinds.ts";
import type { Measure, MeasureKind, ObservedEntry } from "./measure-schema.ts";
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
import { type Problem, problemsFrom, refused, type Scored } from "./score.ts";
import type { Score } from "./score-schema.ts";

const schemas: Record<MeasureKind, KindSchemas<Measure, ObservedEntry>> = {
  trials: trialsSchemas,
  supports: promptLevelsSchemas,
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
export {
  entrySchema,
  type Measure,
  type MeasureKind,
  measureSchema,
  type ObservedEntry,
} from "./measure-schema.ts";

/** Is this the name of a kind of measure, as it is stored? */
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
