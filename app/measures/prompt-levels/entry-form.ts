import { ladderMarks } from "#core/measures/ladder.ts";
import { promptLevelsEntryFromMarks } from "#core/measures/prompt-levels/prompt-levels.ts";
import { asRead, type EntryFormOf, wholeNumber } from "../entry-form.ts";

/** How often each level was needed; the order is carried along as long as the counts agree with it. */
export const promptLevelsForm: EntryFormOf<"supports"> = {
  fields: (measure) => [
    ...ladderMarks(measure).map((mark, index, marks) => ({
      name: `count.${index}`,
      label: mark,
      numeric: true,
      ...(index === marks.length - 1 ? { problemsOf: ["counts", "sequence"] } : {}),
    })),
    { name: "sequence", label: "", as: "hidden" },
  ],
  read(measure, values) {
    const marks = ladderMarks(measure);
    const typed = marks.map((_, index) => wholeNumber(values[`count.${index}`]) ?? 0);
    const sequence = (values["sequence"] ?? "")
      .split(",")
      .flatMap((index) => (index === "" ? [] : [marks[Number(index)] ?? ""]));
    const ordered = promptLevelsEntryFromMarks(sequence);
    const counts = Object.fromEntries(
      marks.flatMap((mark, index) => (typed[index] === 0 ? [] : [[mark, typed[index] ?? 0]])),
    );
    const same = marks.every((mark) => (counts[mark] ?? 0) === (ordered.counts[mark] ?? 0));
    return asRead({ counts, ...(same && sequence.length > 0 ? { sequence } : {}) });
  },
  write(measure, entry) {
    const marks = ladderMarks(measure);
    return {
      ...Object.fromEntries(marks.map((mark, index) => [`count.${index}`, String(entry.counts[mark] ?? 0)])),
      sequence: (entry.sequence ?? []).map((mark) => marks.indexOf(mark)).join(","),
    };
  },
  add: (typed, counted) => ({
    ...counted,
    counts: Object.fromEntries(
      [...new Set([...Object.keys(typed.counts), ...Object.keys(counted.counts)])].map((mark) => [
        mark,
        (typed.counts[mark] ?? 0) + (counted.counts[mark] ?? 0),
      ]),
    ),
    // An order without a beginning is none: the form leaves it out where the counts do not agree.
    sequence: [...(typed.sequence ?? []), ...(counted.sequence ?? [])],
  }),
};
