import { asRead, type EntryFormOf } from "../entry-form.ts";

export const intervalsForm: EntryFormOf<"intervals"> = {
  fields: () => [
    {
      name: "intervals",
      label: "Intervals in order",
      problemsOf: ["marks"],
      hint: "1 seen, 0 not seen, - not observed.",
      wide: true,
    },
  ],
  read: (_, values) => asRead({ marks: (values["intervals"] ?? "").replaceAll(/\s/g, "") }),
  write: (_, { marks }) => ({ intervals: marks }),
  add: (typed, counted) => ({ kind: "intervals", marks: typed.marks + counted.marks }),
};
