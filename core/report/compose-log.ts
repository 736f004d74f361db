import type { Audience } from "./audience.ts";
import { type AudienceSettings, audienceDefaults, readsIncidents } from "./audience.ts";
import { staffWords } from "./staff-words.ts";
import { groupBy } from "../lists/group-by.ts";
import { type Catalogue, en } from "../words/en.ts";
import { capitalise } from "../words/numbers.ts";
import type { ReportBlock, ReportOrder, ReportSection, ReportSpan } from "./document.ts";
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
  settings: AudienceSettings;
  /** Null: everything. */
  span: ReportSpan | null;
  order: ReportOrder;
}

const running: LogChoice = {
  ...{ audience: "team", settings: audienceDefaults.team, span: null, order: "time" },
};

/** Jots stand in the log without a goal, as incidents do. */
const isJot = ({ page }: ReportLine) => page.startsWith("jots/");

/** Is a line for this audience? */
function isFor(line: ReportLine, { audience, settings: { fields, sections } }: LogChoice): boolean {
  if (isJot(line)) return sections.includes("jots") && (!line.teamOnly || fields.includes("team only"));
  if (line.goalId === null) return readsIncidents(audience);
  return fields.includes("decisions") || !line.page.startsWith("decisions/");
}

/** A line as its audience reads it: with or without its note, pictures, time and person. */
function tailored(
  { pictures, noteForTeam, ...line }: ReportLine,
  { fields, staff, when }: AudienceSettings,
  words: Catalogue,
): ReportLine {
  const readsNote = fields.includes("notes") && (!noteForTeam || fields.includes("team only"));
  const told = {
    ...line,
    note: readsNote ? line.note : null,
    ...(readsNote && noteForTeam ? { noteForTeam } : {}),
    time: when === "times" ? line.time : "",
    author: staffWords(line.author, staff, words),
    ...(pictures && fields.includes("pictures") ? { pictures } : {}),
  };
  return { ...told, by: words.report.by(null, told.time, told.author) };
}

/** The entries without what in them is free text for readers who see no notes, or names a person where no staff is named. */
function tailoredEntries(
  { entries, ...record }: ReportRecord,
  { fields, staff }: AudienceSettings,
  words: Catalogue,
): ReportRecord {
  const hasNotes = fields.includes("notes");
  return {
    ...record,
    entries: entries.map((recorded) => {
      const { entry, circumstances } = recorded;
      const isForTeam = circumstances?.noteForTeam === true && !fields.includes("team only");
      if (entry.kind === "outcomes" && (!hasNotes || isForTeam) && entry.note) {
        return { ...recorded, entry: { ...entry, note: "" } };
      }
      if (entry.kind !== "rubric" || !entry.rater || staff === "names") return recorded;
      const { rater, ...unnamed } = entry;
      const called = staffWords(rater, staff, words);
      return { ...recorded, entry: called ? { ...unnamed, rater: called } : unnamed };
    }),
  };
}

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
  const asked = { ...running, ...choice };
  const { settings, span, order: arranged } = asked;
  const lines = reportLines(goals, tailoredEntries(record, settings, words), order, words)
    .filter((line) => isFor(line, asked) && isIn(span, line))
    .map((line) => tailored(line, settings, words));
  return {
    name: "log",
    label: says.log(arranged, readsIncidents(asked.audience)),
    ...(settings.entries === "list" ? {} : { layout: settings.entries }),
    ...(settings.entries === "table" ? { columns: words.family.columns } : {}),
    blocks:
      lines.length === 0
        ? [{ kind: "sentence", text: says.noEntries() }]
        : arranged === "time"
          ? byDay(lines, words)
          : byGoal(lines, goals, words),
  };
}
