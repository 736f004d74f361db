import {
  type Audience,
  audienceDefaults,
  type AudienceSettings,
  readsIncidents,
  type SectionName,
  settledFor,
} from "./audience.ts";
import type { Student } from "../model/student.ts";
import type { ParentStatement } from "../retention/rights-request.ts";
import { parentStatementsSection } from "./parent-statements.ts";
import { catalogueOf } from "../words/catalogues.ts";
import type { Catalogue } from "../words/en.ts";
import { staffWords } from "./staff-words.ts";
import { type BehaviorMaterial, behaviorBlocks, behaviorGlance, hasBehavior } from "./compose-behavior.ts";
import { goalBlock, type GoalsMaterial, isOfSpan, judgeForReport, glanceAt } from "./compose-goal.ts";
import { meetingLists } from "./compose-meeting.ts";
import { jotBlocks, type JotsMaterial } from "./compose-jots.ts";
import { composeLog, type LogMaterial } from "./compose-log.ts";
import { reportData } from "./report-data.ts";
import type {
  ReportBlock,
  ReportDocument,
  ReportFact,
  ReportOrder,
  ReportSection,
  ReportSpan,
} from "./document.ts";

/** What a report is made from: the student, their goals with entries, their incidents, and the lines of the log. */
export interface ReportMaterial extends GoalsMaterial, LogMaterial {
  goals: GoalsMaterial["goals"];
  student: Pick<Student, "studentId" | "initials" | "name" | "screenName" | "grade" | "iepFrom" | "iepTo">;
  schoolName: string;
  /** Those who support the student now, the case manager first. */
  circle: readonly { name: string; position: string }[];
  behavior: BehaviorMaterial;
  jots: JotsMaterial;
  /** What parents stated and did not withdraw. */
  parentStatements: readonly ParentStatement[];
  /** The school's own date, `YYYY-MM-DD`. */
  today: string;
}

export interface ReportChoice {
  audience: Audience;
  /** How the audience reads it; as for a school that has set nothing where it is not given. */
  settings?: AudienceSettings;
  audienceName?: string | null;
  span: ReportSpan;
  order: ReportOrder;
  /** With the numbers for files. */
  withData?: boolean;
}

/** The first lines of a report: grade, school, support team, and which days it covers. */
export function aboutStudent(
  { student, schoolName, circle, today }: Pick<ReportMaterial, "student" | "schoolName" | "circle" | "today">,
  { from, to }: ReportSpan,
  settings: AudienceSettings,
  words: Catalogue,
): ReportFact[] {
  const says = words.report;
  const { iepFrom, iepTo } = student;
  const facts: [string, string | null][] = [
    [says.labels.grade, student.grade],
    [says.labels.school, schoolName],
    [
      settings.plain ? words.family.iep() : says.labels.iep,
      iepTo && (iepFrom ? says.span(iepFrom, iepTo) : says.span(null, iepTo)),
    ],
    [
      says.labels.team,
      circle
        .map(({ name, position }) =>
          [staffWords(name, settings.staff, words), words.family.position(position)].filter(Boolean),
        )
        .map(([first = "", position = ""]) => says.member(first, position))
        .join("; "),
    ],
    [says.labels.covers, says.span(from, to)],
    [says.labels.prepared, says.on(today)],
  ];
  return facts.flatMap(([label, value]) => (value ? [{ label, value }] : []));
}

const sentence = (text: string): ReportBlock => ({ kind: "sentence", text });

/** The goals, and after the last one what the marks of all their charts stand for. */
function goalsSection(
  judged: readonly ReturnType<typeof judgeForReport>[],
  span: ReportSpan,
  material: ReportMaterial,
  settings: AudienceSettings,
  words: Catalogue,
): ReportSection {
  const goals = judged.map((one) => goalBlock(one, span, material, settings, words));
  const legend = new Set(goals.flatMap((one) => one.legend));
  const lists = meetingLists(material.meetingNotes, null, settings, words);
  return {
    name: "goals",
    label: words.report.goals(),
    blocks: [
      ...goals.map(({ block }) => block),
      ...(lists.length > 0 ? [{ kind: "meeting" as const, lists }] : []),
      ...(legend.size > 0 ? [{ kind: "legend" as const, text: words.report.legend([...legend]) }] : []),
    ],
  };
}

/** The first lines: what goes well, what needs a decision, what goes on, and the behavior. */
function glance(
  judged: readonly ReturnType<typeof judgeForReport>[],
  behavior: readonly string[],
  settings: AudienceSettings,
  words: Catalogue,
): ReportSection {
  const says = words.report;
  const told = judged.map((one) => glanceAt(one, settings, words));
  const columns = [
    ...(["well", "decide", "going"] as const).map((column) => ({
      label: says.labels[column],
      items: told.flatMap(({ column: of, id, text }) => (of === column ? [{ id, text }] : [])),
    })),
    { label: says.behavior(), items: behavior.map((text) => ({ id: text, text })) },
  ].filter(({ items }) => items.length > 0);
  return {
    name: "glance",
    label: says.glance(),
    blocks: [columns.length > 0 ? { kind: "glance", columns } : sentence(says.noGoals())],
  };
}

/**
 * Composes the report of one student as data. It reads no clock and no database: the same input gives the same document. The goals are
 * told as the numbers say it on the last day of the span.
 */
export function composeReport(
  material: ReportMaterial,
  choice: Partial<ReportChoice> = {},
  words: Catalogue = catalogueOf((choice.settings ?? audienceDefaults[choice.audience ?? "team"]).language),
): ReportDocument {
  const says = words.report;
  const { student, goals, today, behavior } = material;
  const audience = choice.audience ?? "team";
  const { span, order, audienceName, withData }: Omit<ReportChoice, "audience" | "settings"> = {
    ...{ span: { from: null, to: today }, order: "time" },
    ...choice,
  };
  const settings = settledFor(audience, {
    ...(choice.settings ?? audienceDefaults[audience]),
    language: words.language,
  });
  const has = (section: SectionName) => settings.sections.includes(section);
  const judged = goals
    .filter((goal) => isOfSpan(goal, span))
    .map((goal) => judgeForReport(goal, span, material, words));
  const isBehavior = has("behavior") && hasBehavior(behavior, span);
  const jots = has("jots") ? jotBlocks(material.jots, span, settings, words) : [];
  const sections: (ReportSection | null)[] = [
    has("glance")
      ? glance(judged, isBehavior ? behaviorGlance(behavior, span, words) : [], settings, words)
      : null,
    has("goals") ? goalsSection(judged, span, material, settings, words) : null,
    isBehavior
      ? {
          name: "behavior",
          label: says.behavior(),
          blocks: behaviorBlocks(
            behavior,
            span,
            { ...settings, readsFindings: readsIncidents(audience) },
            words,
          ),
        }
      : null,
    parentStatementsSection(
      material.parentStatements,
      {
        goals: has("goals") || has("glance") || has("log") ? judged.map(({ goal }) => goal) : [],
        incidents: isBehavior || (has("log") && readsIncidents(audience)),
      },
      words,
    ),
    jots.length > 0 ? { name: "jots", label: words.jots.section(), blocks: jots } : null,
    has("log") ? composeLog(material, { audience, settings, span, order }, words) : null,
  ];
  return {
    ...{ language: words.language, audience, span, order, ...(audienceName ? { audienceName } : {}) },
    title: student.name,
    called: says.running(),
    head: `${student.screenName} · ${says.span(span.from, span.to)}`,
    facts: aboutStudent(material, span, settings, words),
    sections: sections.filter((section) => section !== null),
    ...(withData ? { data: reportData(judged, material, { audience, settings, span }, words) } : {}),
  };
}
