import type { Language } from "../words/en.ts";
import type { StandingKey } from "../progress/standing.ts";
import type { ReportLine } from "./report-lines.ts";

/** For whom a report is made. */
export type Audience = "team" | "family" | "file";

/** How the lines stand: by day, the newest first, or each under its goal. */
export type ReportOrder = "time" | "goal";

/** Both days included, `YYYY-MM-DD`; null where it is open. */
export interface ReportSpan {
  from: string | null;
  to: string | null;
}

/** A goal as the team argues about it: its wording, its last figure, criterion and due date, and where it stands. */
export interface GoalBlock {
  kind: "goal";
  goalId: string;
  number: string;
  wording: string;
  facts: string[];
  standing: { key: StandingKey; word: string; why: string } | null;
}

/** A heading over the lines that follow it. Its id is the day or the goal it names: parts of one report may begin with the same. */
export interface HeadingBlock {
  kind: "heading";
  id: string;
  text: string;
}

export interface SentenceBlock {
  kind: "sentence";
  text: string;
}

/** An entry, an incident, a goal not measured, a sentence of the patterns or a decision. */
export interface LineBlock {
  kind: "line";
  line: ReportLine;
}

/**
 * What a report is made of. Whoever draws one goes through these kinds, and the compiler says which of them a drawing lacks.
 */
export type ReportBlock = GoalBlock | HeadingBlock | SentenceBlock | LineBlock;

export interface ReportSection {
  name: "goals" | "log";
  label: string;
  blocks: ReportBlock[];
}

/** A report as data: page, margin, print and every file draw the same. */
export interface ReportDocument {
  language: Language;
  audience: Audience;
  span: ReportSpan;
  order: ReportOrder;
  title: string;
  /** What stands below the title: the school, the grade, the IEP. */
  about: string[];
  sections: ReportSection[];
}

/** The lines of a report in the order in which they stand. */
export function linesOf({ sections }: Pick<ReportDocument, "sections">): ReportLine[] {
  return sections.flatMap(({ blocks }) =>
    blocks.flatMap((block) => (block.kind === "line" ? block.line : [])),
  );
}
