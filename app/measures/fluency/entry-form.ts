import { clockTime, readLengthOfTime } from "#core/words/read-time.ts";
import { asRead, type EntryFormOf, timeHelp, wholeNumber, wrongField } from "../entry-form.ts";

export const fluencyForm: EntryFormOf<"fluency"> = {
  fields({ counted = "words", plannedSeconds = 60 }) {
    return [
      {
        name: "attempted",
        label: `${counted.charAt(0).toUpperCase()}${counted.slice(1)} attempted`,
        numeric: true,
      },
      { name: "errors", label: "Errors", numeric: true },
      {
        name: "time",
        label: "In",
        problemsOf: ["seconds"],
        hint: `${clockTime(plannedSeconds)} as planned, or 45 s.`,
      },
    ];
  },
  start: ({ plannedSeconds = 60 }) => ({ time: clockTime(plannedSeconds) }),
  read(_, values) {
    const seconds = readLengthOfTime(values["time"] ?? "");
    if (seconds === null) return wrongField("seconds", timeHelp);
    const [attempted, errors] = [wholeNumber(values["attempted"]), wholeNumber(values["errors"])];
    if (attempted === undefined) return wrongField("attempted", "How many were attempted?");
    return asRead({ attempted, errors: errors ?? 0, seconds });
  },
  write: (_, { attempted, errors, seconds }) => ({
    attempted: String(attempted),
    errors: String(errors),
    time: clockTime(seconds),
  }),
};
