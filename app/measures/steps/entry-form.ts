import { asRead, type EntryFormOf, markAt, unfinished, writeMarks } from "../entry-form.ts";

export const stepsForm: EntryFormOf<"steps"> = {
  read: (measure, values) =>
    asRead({ marks: measure.steps.map((_, row) => markAt(measure, values, row)), ...unfinished(values) }),
  write: (measure, entry) =>
    writeMarks(
      measure,
      measure.steps.map((_, row) => entry.marks[row]),
    ),
};
