import type { Audience, AudienceSettings, SectionName } from "./audience.ts";
import type { SmallChart } from "../chart/small-chart.ts";
import type { StandingKey } from "../progress/standing.ts";
import type { Language } from "../words/en.ts";
import type { ReportLine } from "./report-lines.ts";

/** How the lines stand: by day, the newest first, or each under its goal. */
export type ReportOrder = "time" | "goal";

/** Both days included, `YYYY-MM-DD`; `from` is null where the span is open at its beginning. */
export interface ReportSpan {
  from: string | null;
  to: string;
}

/** A label and what stands for it: the grade, the school, the support team. */
export interface ReportFact {
  label: string;
  value: string;
}

/** A standing as a mark draws it. */
export interface ToldStanding {
  key: StandingKey;
  word: string;
}

/** The first lines of a report, for the reader who has half a minute: each goal and the behavior in a phrase. */
export interface GlanceBlock {
  kind: "glance";
  columns: { label: string; items: { id: string; text: string }[] }[];
}

/** A figure that is read first: the baseline, the latest. */
export interface ReportFigure {
  label: string;
  /** "70%" */
  value: string;
  /** "7 of 10, Tue, Nov 24, 2026" */
  about: string;
}

/** The chart of a goal, and what it shows for those who do not see it. */
export interface ReportChart {
  chart: SmallChart;
  description: string;
}

/** One labelled paragraph of a goal: what changed, the decisions, what the result is made of. */
export interface ReportList {
  label: string;
  /** `page` is where it is corrected; that of a decision where it is not given. */
  items: { id: string; text: string; aside: string | null; page?: string }[];
}

/** Lists of no single goal: what was agreed and asked in meetings, what parents stated. */
export interface MeetingBlock {
  kind: "meeting";
  lists: ReportList[];
}

/** What several people gave the same rubric or category: a column for each, the student's own first. */
export interface RatersTable {
  label: string;
  columns: { name: string; about: string }[];
  /** Days that two or more rated, the newest first. */
  rows: { day: string; cells: (string | null)[] }[];
  /** How far the adults agree, and their mean. */
  sentence: string;
}

/** What was written of a goal for a reporting period, and marked ready. */
export interface ReportStatement {
  id: string;
  /** "Progress report, Trimester 1" */
  label: string;
  rating: string | null;
  /** The sentences drafted from the numbers; empty where they were left out. */
  drafted: string;
  /** The writer's own words. */
  words: string | null;
  by: string;
}

/** A goal as the team argues about it. */
export interface GoalBlock {
  kind: "goal";
  goalId: string;
  number: string;
  title: string;
  wording: string;
  /** Criterion and due date. */
  facts: ReportFact[];
  figures: ReportFigure[];
  standing: (ToldStanding & { why: string }) | null;
  /** What the goal means, in a plain sentence. */
  meaning?: string | null;
  /** Trend, pace and what still runs, in sentences. */
  sentences: string[];
  chart: ReportChart | null;
  lists: ReportList[];
  /** Of the reporting periods of the span, the latest first. Absent where the audience does not see them, and in editions of earlier programs. */
  statements?: ReportStatement[];
  /** Of a rubric that several people scored. Absent in editions of earlier programs. */
  raters?: RatersTable | null;
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

/** What the marks of the charts above stand for. */
export interface LegendBlock {
  kind: "legend";
  text: string;
}

/** An entry, an incident, a goal not measured, a sentence of the patterns or a decision. */
export interface LineBlock {
  kind: "line";
  line: ReportLine;
}

/** What was assessed with a rubric in one go: the comment first, then each criterion with what the level it reached means. */
export interface AssessmentBlock {
  kind: "assessment";
  id: string;
  title: string;
  /** "Tue, Nov 24, 2026, 11 of 16 points" */
  about: string;
  comment: string | null;
  columns: { criterion: string; level: string; meaning: string };
  rows: { criterion: string; level: string; meaning: string }[];
  by: string;
}

/** How many incidents each week had, and where a plan began. */
export interface WeeksBlock {
  kind: "weeks";
  title: string;
  /** `label` is the week in words, `tick` its first day in short. */
  weeks: { from: string; n: number; days: number; label: string; tick: string }[];
  plans: { on: string; name: string }[];
}

/** What is tried with a student, and why. */
export interface PlanBlock {
  kind: "plan";
  planId: string;
  name: string;
  days: string;
  facts: ReportFact[];
  changed: string | null;
}

/** Levels over time. Steps are places from 1, the lowest; days are counted as `dayNumber` does. */
export interface StepChart {
  /** Names of the levels, the lowest first. */
  levels: string[];
  fromDay: number;
  toDay: number;
  ticks: { day: number; label: string }[];
  points: { day: number; step: number; own: boolean }[];
  /** Each day's mean of the adults' ratings. */
  line: { day: number; step: number }[];
}

/** The jots of one category. */
export interface JotsBlock {
  kind: "jots";
  categoryId: string;
  title: string;
  counts: string;
  levels: { name: string; meaning: string }[];
  chart: { chart: StepChart; title: string; legend: string; description: string } | null;
  latest: { label: string; text: string; page: string; by: string; teamOnly: boolean } | null;
  raters: RatersTable | null;
}

/** The latest pictures of a span. Their bytes never change and are served apart; with their hashes here, that of an edition covers them. */
export interface PicturesBlock {
  kind: "pictures";
  items: {
    pictureId: string;
    caption: string;
    width: number;
    height: number;
    sha256: string;
    page: string;
    by: string;
  }[];
}

/**
 * What a report is made of. Whoever draws one goes through these kinds, and the compiler says which of them a drawing lacks.
 */
export type ReportBlock =
  | GlanceBlock
  | GoalBlock
  | HeadingBlock
  | SentenceBlock
  | LegendBlock
  | LineBlock
  | WeeksBlock
  | PlanBlock
  | JotsBlock
  | AssessmentBlock
  | MeetingBlock
  | PicturesBlock;

export interface ReportSection {
  /** What an audience may choose; what parents stated is in every report of the part it is about. */
  name: SectionName | "parents";
  label: string;
  blocks: ReportBlock[];
  /** How its lines read; absent for a list, and in editions of earlier programs. */
  layout?: AudienceSettings["entries"];
  /** The heads of the columns, where its lines are a table. */
  columns?: { on: string; result: string; note: string; by: string };
}

/** Rows under names of columns. Days are `YYYY-MM-DD`, times `HH:MM`, numbers are numbers, and what is not known is an empty text. */
export interface DataTable {
  head: string[];
  rows: (string | number)[][];
}

/** What a report is made of, as numbers: for a file that is counted with again. As far as its audience reads it. */
export interface ReportData {
  /** The points of each goal through the last day of the span, in the columns that `figures progress` and `figures decide` read. */
  goals: ({ goalId: string } & DataTable)[];
  /** In the columns that `figures incidents` and `figures findings` read; absent where the audience does not read them one by one. */
  incidents?: DataTable;
  /** Absent where the audience reads none. */
  jots?: DataTable;
}

/** A report as data: page, margin, print and every file draw the same. */
export interface ReportDocument {
  language: Language;
  audience: Audience;
  /** What the school calls an audience of its own. */
  audienceName?: string;
  span: ReportSpan;
  order: ReportOrder;
  title: string;
  /** What kind of report it is: "Running report". */
  called: string;
  /** Who it is about, as the head of every printed page names them, and the span. */
  head: string;
  facts: ReportFact[];
  sections: ReportSection[];
  /** Where a file is made of it; absent where it is only read, and in editions of earlier programs. */
  data?: ReportData;
}

/** The lines of a report in the order in which they stand. */
export function linesOf({ sections }: Pick<ReportDocument, "sections">): ReportLine[] {
  return sections.flatMap(({ blocks }) =>
    blocks.flatMap((block) => (block.kind === "line" ? block.line : [])),
  );
}
