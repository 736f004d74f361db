import type { DecisionKind } from "../model/decision-kinds.ts";
import { reportEn, type ReportWords } from "../words/en/report.ts";
import { capitalise } from "../words/numbers.ts";
import type { EntryLine } from "./entry-line.ts";

/** A decision as its reader will see it in the report: what, and why. */
export const decisionLine = (
  goalTitle: string,
  { kind, phaseName, reason }: { kind: DecisionKind; phaseName: string | null; reason: string },
  words: ReportWords = reportEn,
): EntryLine => ({
  sentence: words.decision(goalTitle, kind, phaseName),
  note: reason.trim() ? capitalise(reason.trim()) : null,
});
