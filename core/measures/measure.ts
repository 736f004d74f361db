import * as z from "zod/mini";
import { checklist, checklistEntry, checklistMeasure } from "./checklist.ts";
import { count, countEntry, countMeasure } from "./count.ts";
import { duration, durationEntry, durationMeasure } from "./duration.ts";
import { fluency, fluencyEntry, fluencyMeasure } from "./fluency.ts";
import { intervals, intervalsEntry, intervalsMeasure } from "./intervals.ts";
import type { Kind } from "./kind.ts";
import { latency, latencyEntry, latencyMeasure } from "./latency.ts";
import { outcomes, outcomesEntry, outcomesMeasure } from "./outcomes.ts";
import { rubric, rubricEntry, rubricMeasure } from "./rubric.ts";
import { runningTotal, runningTotalEntry, runningTotalMeasure } from "./running-total.ts";
import { type Problem, problemsFrom, refused, type Score, type Scored } from "./score.ts";
import { skills, skillsEntry, skillsMeasure } from "./skills.ts";
import { steps, stepsEntry, stepsMeasure } from "./steps.ts";
import { supports, supportsEntry, supportsMeasure } from "./supports.ts";
import { trials, trialsEntry, trialsMeasure } from "./trials.ts";

/** How a goal is measured. One member for each kind, told apart by `kind`. */
export const measureSchema = z.discriminatedUnion("kind", [
  trialsMeasure,
  supportsMeasure,
  skillsMeasure,
  checklistMeasure,
  stepsMeasure,
  countMeasure,
  durationMeasure,
  latencyMeasure,
  intervalsMeasure,
  fluencyMeasure,
  rubricMeasure,
  outcomesMeasure,
  runningTotalMeasure,
]);
export type Measure = z.infer<typeof measureSchema>;
export type MeasureKind = Measure["kind"];

/** What was observed, in the shape of its measure. */
export const entrySchema = z.discriminatedUnion("kind", [
  trialsEntry,
  supportsEntry,
  skillsEntry,
  checklistEntry,
  stepsEntry,
  countEntry,
  durationEntry,
  latencyEntry,
  intervalsEntry,
  fluencyEntry,
  rubricEntry,
  outcomesEntry,
  runningTotalEntry,
]);
export type ObservedEntry = z.infer<typeof entrySchema>;

/** All kinds, in the order in which a person is offered them. */
export const kinds: Record<MeasureKind, Kind<Measure, ObservedEntry>> = {
  trials,
  supports,
  skills,
  checklist,
  steps,
  count,
  duration,
  latency,
  intervals,
  fluency,
  rubric,
  outcomes,
  "running-total": runningTotal,
};
export const measureKinds = Object.keys(kinds) as MeasureKind[];

export function isMeasureKind(kind: unknown): kind is MeasureKind {
  return typeof kind === "string" && Object.hasOwn(kinds, kind);
}

export function kindOf(measure: Measure): Kind<Measure, ObservedEntry> {
  return kinds[measure.kind];
}

/** The unit in which a measure gives its value. */
export function unitOf(measure: Measure): string {
  return kindOf(measure).unit(measure);
}

/** Reads a measure from outside; the problems name the fields of the measure. */
export function readMeasure(
  raw: unknown,
): { ok: true; measure: Measure } | { ok: false; problems: Problem[] } {
  const kind = typeof raw === "object" && raw !== null && "kind" in raw ? raw.kind : undefined;
  if (!isMeasureKind(kind)) return refused("kind", "Choose how the goal is measured.");
  const parsed = kinds[kind].measure.safeParse(raw);
  return parsed.success
    ? { ok: true, measure: parsed.data }
    : { ok: false, problems: problemsFrom(parsed.error) };
}

/** The score of what was observed, whatever more the entry carries. Units: those of the measure. */
export function scoreEntry(measure: Measure, entry: object): Scored {
  const kind = kindOf(measure);
  const parsed = kind.observed.safeParse(entry);
  if (!parsed.success) return { ok: false, problems: problemsFrom(parsed.error) };
  return kind.score(measure, parsed.data as ObservedEntry);
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
  const kind = kindOf(measure);
  if (typeof raw === "object" && raw !== null && "kind" in raw && raw.kind !== measure.kind)
    return refused("form", "This goal is measured in another way now. Please open it again.");
  const parsed = kind.entry.safeParse(raw);
  if (!parsed.success) return { ok: false, problems: problemsFrom(parsed.error) };
  const result = kind.score(measure, parsed.data);
  if (!result.ok) return result;
  const problems = kind.problems?.(measure, parsed.data) ?? [];
  return problems.length > 0
    ? { ok: false, problems }
    : { ok: true, entry: parsed.data, score: result.score };
}
