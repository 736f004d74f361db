import { otherOutcome } from "#core/measures/outcomes/other-outcome.ts";
import { asRead, type EntryFormOf, wholeNumber } from "../entry-form.ts";

/** The outcome by its place in the list, or "other" with a few words. */
export const outcomesForm: EntryFormOf<"outcomes"> = {
  read(measure, values) {
    const at = values["outcome"] ?? "";
    const outcome = at === otherOutcome ? at : (measure.outcomes[wholeNumber(at) ?? -1]?.id ?? "");
    const note = values["outcomeNote"]?.trim();
    return asRead({ outcome, ...(outcome === otherOutcome && note ? { note } : {}) });
  },
  write: (measure, { outcome, note }) => ({
    outcome:
      outcome === otherOutcome ? outcome : String(measure.outcomes.findIndex(({ id }) => id === outcome)),
    outcomeNote: note ?? "",
  }),
};
