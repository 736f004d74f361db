import * as z from "zod/mini";
import { purposeSchema } from "#core/criteria/criterion.ts";
import { readEntry, type Measure } from "#core/measures/measure.ts";
import { isDate } from "#core/dates/day-number.ts";
import { timeIn, timeProblem } from "#core/words/read-time-of-day.ts";
import { noSchoolWords, type SchoolCalendar } from "#core/schedule/calendar.ts";
import type { EntryContent } from "#server/db/entries.ts";
import { Invalid } from "#server/errors.ts";
import { id, optionalText, problemsOf } from "#app/ui/form-data.ts";
import type { Values } from "#app/measures/entry-form.ts";
import { rawEntry } from "#app/measures/entry-forms.ts";

/** A day and a time of day as it was typed, read as `YYYY-MM-DDTHH:MM`. */
const localTime = z.pipe(
  z.string("Please give date and time.").check((typed) => {
    const [on = "", time = ""] = typed.value.split("T");
    const message =
      on === "" || time.trim() === ""
        ? "Please give date and time."
        : !isDate(on) || on < "2000-01-01"
          ? "There is no such date."
          : timeProblem(time);
    if (message) typed.issues.push({ code: "custom", message, input: typed.value });
  }),
  z.transform((typed) => `${typed.slice(0, 10)}T${timeIn(typed.slice(11))}`),
);

export const entryFields = {
  marks: z.optional(z.string().check(z.regex(/^[01]{0,200}$/, "The marks could not be read."))),
  observedAt: localTime,
  /** That a day without school is meant was said. */
  anyDay: z.optional(z.string()),
  /** The page was opened on a day without school. */
  askDay: z.optional(z.string()),
  purpose: z._default(purposeSchema, "probe"),
  setting: optionalText(100),
  note: optionalText(2000),
  noteForTeam: z.optional(z.string()),
};

/** What a correction may change beside that: the help given, whether it was broken off, and who watched. */
export const circumstanceFields = {
  support: optionalText(100),
  interrupted: z.pipe(
    z.optional(z.string()),
    z.transform((value) => value === "yes"),
  ),
  observer: z.pipe(
    z.optional(z.union([z.literal(""), id])),
    z.transform((value) => value || null),
  ),
};

type EntryFields = z.output<z.ZodMiniObject<typeof entryFields>>;

/** Puts what a form brought into the shape the measure stores, scored. */
export function contentOf(
  fields: EntryFields,
  values: Values,
  measure: Measure,
  schoolTime: string,
  /** What is asked of a day without school; nothing for the day an entry has already. */
  { calendar, knownDay = null }: { calendar: SchoolCalendar | null; knownDay?: string | null },
): EntryContent {
  const { observedAt, purpose, setting, note, anyDay } = fields;
  if (observedAt.slice(0, 10) > schoolTime.slice(0, 10))
    throw new Invalid({ observedAt: "This day is still to come." });
  const day = observedAt.slice(0, 10);
  const noSchool = day === knownDay || anyDay || calendar === null ? null : noSchoolWords(calendar, day);
  // Told with what else is wrong, so that nobody answers twice.
  const asked: Record<string, string> = noSchool ? { anyDay: noSchool } : {};
  const raw = rawEntry(measure, values);
  if (!raw.ok) throw new Invalid({ ...problemsOf(raw.problems), ...asked });
  const read = readEntry(measure, raw.raw);
  if (!read.ok)
    throw new Invalid({
      ...problemsOf(
        read.problems.map(({ field, message }) => ({ field: field.split(".")[0] ?? "", message })),
      ),
      ...asked,
    });
  if (noSchool) throw new Invalid(asked);
  return {
    ...{ observedLocal: observedAt, purpose, setting, entry: read.entry, score: read.score, note },
    circumstances: note !== null && fields.noteForTeam ? { noteForTeam: true } : {},
  };
}
