import { groupBy } from "../lists/group-by.ts";
import { type Catalogue, en } from "../words/en.ts";
import { capitalise } from "../words/numbers.ts";
import type { Audience, ReportBlock, ReportOrder, ReportSection, ReportSpan } from "./document.ts";
import { type ReportLine, reportLines, type ReportRecord } from "./report-lines.ts";

/** What the log of a report is made from. */
export interface LogMaterial {
  goals: readonly { goalId: string; number: string; title: string }[];
  record: ReportRecord;
  /** The ids of the lines, newest first; a line that is not named is left out. */
  order: readonly string[];
}

/** For whom, over which days, in which order. */
export interface LogChoice {
  audience: Audience;
  /** Null: everything. */
  span: ReportSpan | null;
  order: ReportOrder;
}

const running: LogChoice = { audience: "team", span: null, order: "time" };

/** Jots stand in the log without a goal, as incidents do. */
const isJot = ({ page }: ReportLine) => page.startsWith("jots/");

/** A family reads of the goals and jots. Incidents and what their patterns gave to check reach it only through a person. */
const kindsFor: Record<Audience, (line: ReportLine) => boolean> = {
  team: () => true,
  file: () => true,
  family: (line) => line.goalId !== null || (isJot(line) && !line.teamOnly),
};

const isIn = (span: ReportSpan | null, { on }: ReportLine) =>
  span === null || ((span.from === null || span.from <= on) && on <= span.to);

const lineBlock = (line: ReportLine): ReportBlock => ({ kind: "line", line });

function byDay(lines: readonly ReportLine[], words: Catalogue): ReportBlock[] {
  return [...groupBy(lines, ({ on }) => on)].flatMap(([day, ofDay]) => [
    { kind: "heading", id: day, text: words.report.day(day) },
    ...ofDay.map(lineBlock),
  ]);
}

/** A line that stands under its goal: it says its day, and not once more the title of the goal. */
function underGoal(line: ReportLine, title: string | null, words: Catalogue): ReportLine {
  const { sentence, on, time, author } = line;
  const named = `${title ?? ""}: `;
  return {
    ...line,
    by: words.report.by(on, time, author),
    sentence:
      title !== null && sentence.startsWith(named) ? capitalise(sentence.slice(named.length)) : sentence,
  };
}

/** The lines under their goals in the order of the goals; those of no goal come last. */
function byGoal(lines: readonly ReportLine[], goals: LogMaterial["goals"], words: Catalogue): ReportBlock[] {
  const groups = groupBy(lines, (line) => line.goalId ?? (isJot(line) ? "jots" : "incidents"));
  const under = (
    id: string,
    text: string,
    ofIt: readonly ReportLine[] = [],
    title: string | null = null,
  ): ReportBlock[] =>
    ofIt.length > 0
      ? [{ kind: "heading", id, text }, ...ofIt.map((line) => lineBlock(underGoal(line, title, words)))]
      : [];
  return [
    ...goals.flatMap(({ goalId, number, title }) =>
      under(goalId, `${number} ${title}`, groups.get(goalId), title),
    ),
    ...under("incidents", words.report.incidents(), groups.get("incidents")),
    ...under("jots", words.jots.section(), groups.get("jots")),
  ];
}

/**
 * The log of a report: its lines under their days or goals, in the span asked for and as far as the audience reads them. A report is
 * composed in parts where it is long; each part is a section of its own.
 */
export function composeLog(
  { goals, record, order }: LogMaterial,
  choice: Partial<LogChoice> = {},
  words: Catalogue = en,
): ReportSection {
  const says = words.report;
  const { audience, span, order: arranged } = { ...running, ...choice };
  const lines = reportLines(goals, record, order, words).filter(
    (line) => kindsFor[audience](line) && isIn(span, line),
  );
  return {
    name: "log",
    label: arranged === "time" ? says.entries() : says.entriesByGoal(),
    blocks:
      lines.length === 0
        ? [{ kind: "sentence", text: says.noEntries() }]
        : arranged === "time"
          ? byDay(lines, words)
          : byGoal(lines, goals, words),
  };
}
