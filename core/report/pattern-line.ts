import { dateWithYear } from "../words/dates.ts";
import { capitalise } from "../words/numbers.ts";
import type { EntryLine } from "./entry-line.ts";

/** A sentence of the patterns as its reader will see it: something to check, counted among recorded incidents, and no cause. */
export function patternLine({
  words,
  strength,
  from,
  to,
}: {
  words: string;
  strength: "strong" | "weak";
  /** The span it was counted in, `YYYY-MM-DD`. */
  from: string;
  to: string;
}): EntryLine {
  return {
    sentence: `To check${strength === "weak" ? " (weak, may well be chance)" : ""}: ${capitalise(words)}.`,
    note: `Counted among the incidents recorded from ${dateWithYear(from)} to ${dateWithYear(to)}; not a cause.`,
  };
}
