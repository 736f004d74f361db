import { criterionWords } from "../criteria/criterion-words.ts";
import { groupBy } from "../lists/group-by.ts";
import { unitOf } from "../measures/measure.ts";
import type { Student } from "../model/student.ts";
import { judgeGoal, type SummarisedGoal } from "../progress/goal-figures.ts";
import type { ReportWords } from "../words/en/report.ts";
import type { SchoolCalendar } from "../schedule/calendar.ts";
import { type Catalogue, en } from "../words/en.ts";
import type {
  Audience,
  GoalBlock,
  ReportBlock,
  ReportDocument,
  ReportOrder,
  ReportSection,
  ReportSpan,
} from "./document.ts";
import { type ReportLine, reportLines, type ReportRecord } from "./report-lines.ts";

/** What a report is made from: the student, their goals with the facts kept beside them, and the lines in their order. */
export interface ReportMaterial {
  student: Pick<Student, "name" | "grade" | "iepTo">;
  schoolName: string;
  goals: readonly SummarisedGoal[];
  record: ReportRecord;
  /** The ids of the lines, newest first; a line that is not named is left out. */
  order: readonly string[];
  /** The school's own date, `YYYY-MM-DD`. */
  today: string;
  calendar: SchoolCalendar;
}

export interface ReportChoice {
  audience: Audience;
  span: ReportSpan;
  order: ReportOrder;
}

/** The running report: everything, for the team, by day. */
const running: ReportChoice = { audience: "team", span: { from: null, to: null }, order: "time" };

/** A family reads of the goals. Incidents and what their patterns gave to check reach it only through a person. */
const kindsFor: Record<Audience, (line: ReportLine) => boolean> = {
  team: () => true,
  file: () => true,
  family: ({ goalId }) => goalId !== null,
};

const isIn = ({ from, to }: ReportSpan, { on }: ReportLine) =>
  (from === null || from <= on) && (to === null || on <= to);

function goalBlock(
  { goalId, number, wording, measure, setup, summary }: SummarisedGoal,
  { today, calendar }: Pick<ReportMaterial, "today" | "calendar">,
  words: Catalogue,
): GoalBlock {
  const says = words.report;
  const last = summary?.last;
  const standing =
    summary && judgeGoal(summary, setup, { lastOn: summary.lastOn, today, calendar }, words).standing;
  return {
    kind: "goal",
    ...{ goalId, number, wording },
    standing: standing && { ...standing, why: [standing.why, standing.stale].filter(Boolean).join(" ") },
    facts: [
      last ? says.lastFigure({ ...last, unit: unitOf(measure) }, last.date) : says.notMeasuredYet(),
      ...(setup.criterion ? [says.criterion(criterionWords(setup.criterion, measure, words.criterion))] : []),
      ...(setup.dueOn ? [says.due(setup.dueOn)] : []),
    ],
  };
}

const lineBlock = (line: ReportLine): ReportBlock => ({ kind: "line", line });

function byDay(lines: readonly ReportLine[], says: ReportWords): ReportBlock[] {
  return [...groupBy(lines, ({ on }) => on)].flatMap(([day, ofDay]) => [
    { kind: "heading", id: day, text: says.day(day) },
    ...ofDay.map(lineBlock),
  ]);
}

/** The lines under their goals in the order of the goals; those of no goal come last. */
function byGoal(
  lines: readonly ReportLine[],
  goals: readonly SummarisedGoal[],
  says: ReportWords,
): ReportBlock[] {
  const groups = groupBy(lines, ({ goalId }) => goalId);
  const under = (id: string, text: string, ofIt: readonly ReportLine[] = []): ReportBlock[] =>
    ofIt.length > 0 ? [{ kind: "heading", id, text }, ...ofIt.map(lineBlock)] : [];
  return [
    ...goals.flatMap(({ goalId, number, title }) => under(goalId, `${number} ${title}`, groups.get(goalId))),
    ...under("incidents", says.incidents(), groups.get(null)),
  ];
}

/**
 * The log of a report: its lines under their days or goals, in the span asked for and as far as the audience reads them. A report is
 * composed in parts where it is long; each part is a section of its own.
 */
export function composeLog(
  { goals, record, order }: Pick<ReportMaterial, "goals" | "record" | "order">,
  choice: Partial<ReportChoice> = {},
  words: Catalogue = en,
): ReportSection {
  const says = words.report;
  const { audience, span, order: arranged } = { ...running, ...choice };
  const lines = reportLines(goals, record, order, words).filter(
    (line) => kindsFor[audience](line) && isIn(span, line),
  );
  return {
    name: "log",
    label: says.entries(),
    blocks:
      lines.length === 0
        ? [{ kind: "sentence", text: says.noEntries() }]
        : arranged === "time"
          ? byDay(lines, says)
          : byGoal(lines, goals, says),
  };
}

/** Composes the report of one student as data. It reads no clock and no database: the same input gives the same document. */
export function composeReport(
  material: ReportMaterial,
  choice: Partial<ReportChoice> = {},
  words: Catalogue = en,
): ReportDocument {
  const says = words.report;
  const { student, schoolName, goals } = material;
  return {
    language: words.language,
    ...running,
    ...choice,
    title: student.name,
    about: [
      says.running(),
      schoolName,
      ...(student.grade ? [says.grade(student.grade)] : []),
      ...(student.iepTo ? [says.iepTo(student.iepTo)] : []),
    ],
    sections: [
      { name: "goals", label: says.goals(), blocks: goals.map((goal) => goalBlock(goal, material, words)) },
      composeLog(material, choice, words),
    ],
  };
}
