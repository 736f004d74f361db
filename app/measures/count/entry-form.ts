import {
  asRead,
  type EntryFormOf,
  optionalTime,
  secondsTogether,
  timeHelp,
  timeOrNothing,
  wholeNumber,
  wrongField,
} from "../entry-form.ts";

export const countForm: EntryFormOf<"count"> = {
  fields: ({ counted, per }) => [
    { name: "count", label: `How many ${counted ?? "times"}`, numeric: true },
    {
      name: "observed",
      label: "Observed for",
      problemsOf: ["observedSeconds"],
      hint: per === "observation" ? "May be left empty; 20 min or 4:10." : "20 min or 4:10.",
    },
  ],
  read(_, values) {
    const count = wholeNumber(values["count"]);
    const observedSeconds = optionalTime(values["observed"]);
    if (count === undefined) return wrongField("count", "How often was it?");
    if (observedSeconds === null) return wrongField("observedSeconds", timeHelp);
    return asRead({ count, observedSeconds });
  },
  write: (_, { count, observedSeconds }) => ({
    count: String(count),
    observed: timeOrNothing(observedSeconds),
  }),
  add: (typed, counted) => ({
    kind: "count",
    count: typed.count + counted.count,
    observedSeconds: secondsTogether(typed.observedSeconds, counted.observedSeconds),
  }),
};
