import { asRead, type EntryFormOf, markAt, unfinished, writeMarks } from "../entry-form.ts";

export const skillsForm: EntryFormOf<"skills"> = {
  read(measure, values) {
    const marked = measure.skills.flatMap((skill, row) => {
      const mark = markAt(measure, values, row);
      return mark === null ? [] : [[skill, mark] as const];
    });
    return asRead({ marks: Object.fromEntries(marked), ...unfinished(values) });
  },
  write: (measure, entry) =>
    writeMarks(
      measure,
      measure.skills.map((skill) => entry.marks[skill]),
    ),
};
