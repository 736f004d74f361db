import type { JotDetails, JotPicture } from "../model/jot.ts";
import { jotLine, type ToldJot } from "./jot-line.ts";
import { decisionLine } from "./decision-line.ts";
import type { DecisionKind } from "../model/decision-kinds.ts";
import { type EntryLine, entryLine, notMeasuredLine, type Recorded } from "./entry-line.ts";
import { type Catalogue, en } from "../words/en.ts";
import type { NotMeasuredReason } from "../model/entry.ts";
import { incidentLine, type ToldIncident } from "./incident-line.ts";
import { type NotedFinding, patternLine } from "./pattern-line.ts";

/** One line of the report, as its readers see it. */
export interface ReportLine extends EntryLine {
  entryId: string;
  /** The goal it is of; null for incidents and their patterns. */
  goalId: string | null;
  on: string;
  /** `HH:MM`, a period of the day, or nothing where only the day is known. */
  time: string;
  author: string;
  /** The time and the author as they are read. */
  by: string;
  revision: number;
  /** Its own page, below the student's. */
  page: string;
  /** Of a jot. Absent where there is none, and in editions of earlier programs. */
  pictures?: { pictureId: string; words: string; isHere: boolean; sha256?: string }[];
  link?: { url: string; words: string };
  teamOnly?: boolean;
  /** Of an entry, or of one that was not measured. Absent where its note is for everyone, and in editions of earlier programs. */
  noteForTeam?: boolean;
}

interface Told {
  on: string;
  author: string;
}

/** What of a student's record stands in lines of the report. Days are `YYYY-MM-DD`, times the school's own. */
export interface ReportRecord {
  entries: readonly (Told &
    Recorded & { entryId: string; goalId: string; time: string; note: string | null; revision: number })[];
  notMeasured: readonly (Told & {
    noteId: string;
    goalId: string;
    time: string;
    reason: NotMeasuredReason;
    note: string | null;
    noteForTeam: boolean;
    revision: number;
  })[];
  incidents: readonly (Told &
    ToldIncident & {
      incidentId: string;
      at: string | null;
      period: string | null;
      revision: number;
      corrected: boolean;
    })[];
  patterns: readonly (Told & NotedFinding & { noteId: string; time: string })[];
  jots: readonly (Told &
    ToldJot & {
      jotId: string;
      at: string | null;
      period: string | null;
      link: JotDetails["link"];
      pictures: readonly JotPicture[];
      teamOnly: boolean;
      revision: number;
    })[];
  decisions: readonly (Told & {
    decisionId: string;
    goalId: string;
    kind: DecisionKind;
    reason: string;
    phaseName: string | null;
    revision: number;
  })[];
}

type TaggedJot = ReportRecord["jots"][number];

/** What of a jot is more than text; nothing where there is none. */
function besideJot(
  { pictures, link, teamOnly }: TaggedJot,
  { jots: says }: Catalogue,
): Pick<ReportLine, "pictures" | "link" | "teamOnly"> {
  return {
    ...(pictures.length > 0
      ? {
          pictures: pictures.map(({ pictureId, caption, file }) => ({
            ...{
              pictureId,
              words: file ? says.picture(caption) : says.onTheWay(caption),
              isHere: file !== null,
              ...(file ? { sha256: file.sha256 } : {}),
            },
          })),
        }
      : {}),
    ...(link ? { link: { url: link.url, words: link.words.trim() || link.url } } : {}),
    ...(teamOnly ? { teamOnly } : {}),
  };
}

/**
 * The lines of a report: entries, what was to be measured and was not, incidents, jots, what their patterns gave to check, and decisions.
 *
 * @param order the ids of the lines, in the order in which they stand; what it does not name is left out
 */
export function reportLines(
  goals: readonly { goalId: string; title: string }[],
  { entries, notMeasured, incidents, patterns, jots, decisions }: ReportRecord,
  order: readonly string[],
  words: Catalogue = en,
): ReportLine[] {
  const titles = new Map(goals.map((goal) => [goal.goalId, goal.title]));
  const titleOf = (goalId: string) => titles.get(goalId) ?? words.report.goal();
  const lines: Omit<ReportLine, "by">[] = [
    ...entries.map(({ entryId, goalId, on, time, author, note, revision, ...recorded }) => ({
      ...{ entryId, goalId, on, time, author, revision },
      page: `entries/${entryId}`,
      ...entryLine(titleOf(goalId), { ...recorded, on }, note, words.entries),
      ...(note !== null && recorded.circumstances?.noteForTeam ? { noteForTeam: true } : {}),
    })),
    ...notMeasured.map(({ noteId, goalId, on, time, author, revision, reason, note, noteForTeam }) => ({
      ...{ entryId: noteId, goalId, on, time, author, revision },
      page: `not-measured/${noteId}`,
      ...notMeasuredLine(titleOf(goalId), reason, note, words.entries),
      ...(note !== null && noteForTeam ? { noteForTeam } : {}),
    })),
    ...incidents.map((incident) => ({
      ...{ entryId: incident.incidentId, goalId: null, on: incident.on, author: incident.author },
      time: incident.at ?? incident.period ?? "",
      // Joined with another account or told apart, what is told of it stays as it was.
      revision: incident.corrected ? incident.revision : 1,
      page: `incidents/${incident.incidentId}`,
      ...incidentLine(incident, words.incidentLine),
    })),
    ...patterns.map((pattern) => ({
      goalId: null,
      ...{ entryId: pattern.noteId, on: pattern.on, time: pattern.time, author: pattern.author, revision: 1 },
      page: `noted/${pattern.noteId}`,
      ...patternLine(pattern, words.report),
    })),
    ...jots.map((jot) => ({
      ...{ entryId: jot.jotId, goalId: null, on: jot.on, author: jot.author, revision: jot.revision },
      time: jot.at ?? jot.period ?? "",
      page: `jots/${jot.jotId}`,
      ...jotLine(jot, words.jots),
      ...besideJot(jot, words),
    })),
    ...decisions.map((decision) => ({
      goalId: decision.goalId,
      ...{
        entryId: decision.decisionId,
        on: decision.on,
        time: "",
        author: decision.author,
        revision: decision.revision,
      },
      page: `decisions/${decision.decisionId}`,
      ...decisionLine(titleOf(decision.goalId), decision, words.report),
    })),
  ];
  const byId = new Map(
    lines.map((line) => [line.entryId, { ...line, by: words.report.by(null, line.time, line.author) }]),
  );
  return order.flatMap((id) => byId.get(id) ?? []);
}
