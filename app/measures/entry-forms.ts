import type { Measure, MeasureKind, ObservedEntry } from "#core/measures/measure.ts";
import { checklistForm } from "./checklist/entry-form.ts";
import { countForm } from "./count/entry-form.ts";
import { durationForm } from "./duration/entry-form.ts";
import type { EntryField, EntryForm, EntryFormOf, RawEntry, Values } from "./entry-form.ts";
import { fluencyForm } from "./fluency/entry-form.ts";
import { intervalsForm } from "./intervals/entry-form.ts";
import { latencyForm } from "./latency/entry-form.ts";
import { outcomesForm } from "./outcomes/entry-form.ts";
import { rubricForm } from "./rubric/entry-form.ts";
import { runningTotalForm } from "./running-total/entry-form.ts";
import { skillsForm } from "./skills/entry-form.ts";
import { stepsForm } from "./steps/entry-form.ts";
import { promptLevelsForm } from "./prompt-levels/entry-form.ts";
import { trialsForm } from "./trials/entry-form.ts";

/** How an entry of each kind stands in a form. */
const forms: { [Kind in MeasureKind]: EntryFormOf<Kind> } = {
  trials: trialsForm,
  supports: promptLevelsForm,
  skills: skillsForm,
  checklist: checklistForm,
  steps: stepsForm,
  count: countForm,
  duration: durationForm,
  latency: latencyForm,
  intervals: intervalsForm,
  fluency: fluencyForm,
  rubric: rubricForm,
  outcomes: outcomesForm,
  "running-total": runningTotalForm,
};
const formOf = ({ kind }: Measure) => forms[kind] as EntryForm<Measure, ObservedEntry>;

/** The fields in which an entry of this measure is typed; null where it is marked in rows. */
export const entryFieldsOf = (measure: Measure): EntryField[] | null =>
  formOf(measure).fields?.(measure) ?? null;

/** Is it counted or timed by a panel while it happens? */
export const isCounted = (measure: Measure): boolean =>
  formOf(measure).fields !== undefined && !formOf(measure).typedOnly;

/** What a form says was observed, in the shape that `readEntry` reads; what no field can mean is a problem. */
export function rawEntry(measure: Measure, values: Values): RawEntry {
  const read = formOf(measure).read(measure, values);
  return read.ok ? { ok: true, raw: { kind: measure.kind, ...read.raw } } : read;
}

/** The other way: an entry that is there, as the fields of its form. */
export const valuesOf = (measure: Measure, entry: ObservedEntry): Values =>
  measure.kind === entry.kind ? formOf(measure).write(measure, entry) : {};

/**
 * What stands in a form once a panel has counted something on top of what was typed.
 *
 * @param observed what the marks of the panel say, in the shape that `readEntry` reads
 * @returns null where nothing can be said of it yet: what was typed stays
 */
export function valuesWith(
  measure: Measure,
  typed: Values,
  observed: Record<string, unknown> | null,
): Values | null {
  if (!observed) return null;
  const before = rawEntry(measure, typed);
  const form = formOf(measure);
  const counted = observed as unknown as ObservedEntry;
  // Where what is typed cannot be read, nothing is added: its message must stay true.
  if (!before.ok || !form.add) return valuesOf(measure, counted);
  if (Object.values(before.raw).some(Number.isNaN)) return null;
  return valuesOf(measure, form.add(before.raw as unknown as ObservedEntry, counted));
}

/** Has anything been marked or typed that would be lost? */
export function hasMarks(values: Values): boolean {
  return Object.entries(values).some(
    ([name, value]) =>
      value !== "" && !["observedAt", "purpose", "setting", "time", "observed"].includes(name),
  );
}

/** What stands in a fresh sheet: the time, and what the measure has planned. */
export const startValues = (measure: Measure, now: string): Values => ({
  observedAt: now,
  ...formOf(measure).start?.(measure),
});
