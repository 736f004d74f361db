import { scoreWords } from "../amounts.ts";
import { dateWithYear, longDate, wholeDate } from "../dates.ts";
import { capitalise, counts } from "../numbers.ts";

/** A figure with the counts it is made of; null where an entry does not yield it. */
export interface LastFigureArgs {
  value: number | null;
  unit: string;
  numerator: number | null;
  denominator: number | null;
}

const decisions = {
  "keep going": "decided to keep going",
  raise: "decided to raise the criterion",
  "change instruction": "decided to change the instruction",
  "new phase": "decided to begin a new phase",
  "more data": "decided to take more data first",
  "taught as planned": "taught as planned",
};

/** What a report says around its entries; English. Names, titles and notes are arguments. */
export const reportEn = {
  running: () => "Running report",
  goals: () => "Goals",
  goal: () => "Goal",
  entries: () => "Entries",
  incidents: () => "Incidents",
  noEntries: () => "No entries yet. Each entry appears here when it is saved.",
  day: (on: string) => longDate(on),
  grade: (grade: string) => `grade ${grade}`,
  iepTo: (on: string) => `IEP to ${dateWithYear(on)}`,
  /** "80% (8 of 10) on Thursday, November 26" */
  lastFigure: (last: LastFigureArgs, on: string) => `${scoreWords(last)} on ${longDate(on)}`,
  notMeasuredYet: () => "not measured yet",
  criterion: (criterion: string) => `criterion ${criterion}`,
  due: (on: string) => `due ${dateWithYear(on)}`,
  /** "7 of 10, Tuesday, November 24" */
  aboutLast: (counted: { numerator: number; denominator: number } | null, entry: string | null, on: string) =>
    [counted ? counts(counted.numerator, counted.denominator) : entry, wholeDate(on)]
      .filter(Boolean)
      .join(", "),
  interval: (low: number, high: number) => `95% interval ${low}–${high}`,
  decision: (goal: string, kind: keyof typeof decisions, phase: string | null) =>
    `${goal}: ${decisions[kind]}${phase ? `; “${phase}” begins` : ""}.`,
  toCheck: (finding: string, strength: "strong" | "weak") =>
    `To check${strength === "weak" ? " (weak, may be chance)" : ""}: ${capitalise(finding)}.`,
  countedFrom: (from: string, to: string) =>
    `Counted among the incidents recorded from ${dateWithYear(from)} to ${dateWithYear(to)}; not a cause.`,
};

/** What a report says around its entries, in one language. */
export type ReportWords = typeof reportEn;
