import type { OutcomesMeasure } from "./schema.ts";
import { type SheetLine, whole, markCodes } from "../sheet-line.ts";

export const outcomesLine: SheetLine<OutcomesMeasure> = {
  codes: ({ outcomes }) => markCodes(outcomes.map(({ id, label }) => label ?? id)),
  columns: () => ["outcome", "or what else"],
  hint: () => "the code of the outcome: 1; or in words what else",
  read(measure, text) {
    const at = whole(text);
    const outcome = at === null ? undefined : measure.outcomes[at - 1];
    if (outcome) return { outcome: outcome.id };
    return at === null && text !== "" ? { outcome: "other", note: text.slice(0, 500) } : null;
  },
};
