import { trialsEntryFromMarks } from "#core/measures/trials/trials.ts";
import { asRead, type EntryFormOf, wholeNumber } from "../entry-form.ts";

/** Typed as counts, or marked trial by trial: the marks are a text of 0 and 1. */
export const trialsForm: EntryFormOf<"trials"> = {
  fields: () => [
    { name: "correct", label: "Correct", numeric: true },
    { name: "attempted", label: "Out of", numeric: true },
  ],
  read(_, values) {
    const marks = values["marks"] ?? "";
    if (marks !== "") return asRead({ ...trialsEntryFromMarks([...marks].map((mark) => mark === "1")) });
    const [correct, attempted] = [wholeNumber(values["correct"]), wholeNumber(values["attempted"])];
    if (correct !== undefined && attempted !== undefined) return asRead({ correct, attempted });
    return {
      ok: false,
      problems: [
        ...(correct === undefined ? [{ field: "correct", message: "How many were correct?" }] : []),
        ...(attempted === undefined ? [{ field: "attempted", message: "Out of how many?" }] : []),
        { field: "form", message: "Nothing is marked yet: mark at least one trial, or type the counts." },
      ],
    };
  },
  write: (_, { correct, attempted }) => ({ correct: String(correct), attempted: String(attempted) }),
};
