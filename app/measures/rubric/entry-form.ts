import { asRead, type EntryFormOf, wholeNumber } from "../entry-form.ts";

export const rubricForm: EntryFormOf<"rubric"> = {
  read(measure, values) {
    const levels = measure.criteria.flatMap(({ id }, row) => {
      const level = wholeNumber(values[`level.${row}`]);
      return level === undefined ? [] : [[id, level] as const];
    });
    const rater = values["rater"]?.trim();
    return asRead({ levels: Object.fromEntries(levels), ...(rater ? { rater } : {}) });
  },
  write: (measure, entry) => ({
    ...Object.fromEntries(
      measure.criteria.map(({ id }, row) => [`level.${row}`, String(entry.levels[id] ?? "")]),
    ),
    rater: entry.rater ?? "",
  }),
};
