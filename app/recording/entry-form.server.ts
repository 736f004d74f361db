import * as z from "zod/mini";
import { purposeSchema } from "#core/criteria/criterion.ts";
import { isDate } from "#core/progress/day-number.ts";
import { readEntry, type Measure } from "#core/measures/measure.ts";
import { trialsEntryFromMarks } from "#core/measures/trials.ts";
import type { EntryContent } from "#server/db/entries.ts";
import { InputProblems } from "#server/failure.ts";
import { optionalText, problemsOf } from "#app/ui/form-data.ts";

/** Counts as typed: empty is "not given", never zero. */
const typedCount = z.pipe(
  z.optional(z.string().check(z.trim(), z.regex(/^\d{0,5}$/, "Please give a whole number."))),
  z.transform((value) => (value ? Number(value) : null)),
);

const localTime = z.string("Please give date and time.").check(
  z.regex(/^\d{4}-\d{2}-\d{2}T([01]\d|2[0-3]):[0-5]\d$/, "Please give date and time."),
  z.refine((value) => isDate(value.slice(0, 10)) && value >= "2000-01-01", "There is no such date and time."),
);

export const entryFields = {
  marks: z.optional(z.string().check(z.regex(/^[01]{0,200}$/, "The marks could not be read."))),
  correct: typedCount,
  attempted: typedCount,
  observedAt: localTime,
  purpose: z._default(purposeSchema, "probe"),
  note: optionalText(2000),
};

type EntryFields = z.output<z.ZodMiniObject<typeof entryFields>>;

/** Puts what a form brought into the shape the measure stores, scored. Marks go before typed counts. */
export function contentOf(fields: EntryFields, measure: Measure, schoolTime: string): EntryContent {
  const { marks, correct, attempted, observedAt, purpose, note } = fields;
  if (observedAt.slice(0, 10) > schoolTime.slice(0, 10))
    throw new InputProblems({ observedAt: "This day is still to come." });
  if (!marks && (correct === null || attempted === null)) {
    throw new InputProblems({
      ...(correct === null ? { correct: "How many were correct?" } : {}),
      ...(attempted === null ? { attempted: "Out of how many?" } : {}),
      form: "Nothing is marked yet: mark at least one trial, or type the counts.",
    });
  }
  const raw = marks
    ? trialsEntryFromMarks([...marks].map((mark) => mark === "1"))
    : { kind: measure.kind, correct, attempted };
  const read = readEntry(measure, raw);
  if (!read.ok) throw new InputProblems(problemsOf(read.problems));
  return { observedLocal: observedAt, purpose, entry: read.entry, score: read.score, note };
}
