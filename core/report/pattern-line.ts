import { reportEn, type ReportWords } from "../words/en/report.ts";
import type { EntryLine } from "./entry-line.ts";

/** A finding that was added to the report, in the words it had then. */
export interface NotedFinding {
  words: string;
  strength: "strong" | "weak";
  /** The span it was counted in, `YYYY-MM-DD`. */
  from: string;
  to: string;
}

/** A finding as its reader will see it: something to check, counted among recorded incidents, and no cause. */
export const patternLine = (
  { words: finding, strength, from, to }: NotedFinding,
  words: ReportWords = reportEn,
): EntryLine => ({ sentence: words.toCheck(finding, strength), note: words.countedFrom(from, to) });
