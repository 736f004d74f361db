import { decisionLine } from "#core/report/decision-line.ts";
import { entryLine, notMeasuredLine } from "#core/report/entry-line.ts";
import { incidentLine } from "#core/report/incident-line.ts";
import { patternLine } from "#core/report/pattern-line.ts";
import type { Decision } from "#server/db/decisions.ts";
import type { PatternNote } from "#server/db/pattern-notes.ts";
import type { KeptIncident } from "#server/db/incident-lists.ts";
import type { Entry, Goal } from "#server/db/rows.ts";
import type { NotMeasured } from "#server/db/not-measured.ts";

/** One line of the report, as its readers see it. */
export interface ReportLine {
  entryId: string;
  on: string;
  /** `HH:MM`, a period of the day, or nothing where only the day is known. */
  time: string;
  author: string;
  sentence: string;
  note: string | null;
  revision: number;
  /** Its own page, below the student's. */
  page: string;
}

/** Entries, what was to be measured and was not, incidents, what their patterns gave to check, and decisions, newest first. */
export function reportLines(
  goals: readonly Goal[],
  {
    entries,
    notMeasured,
    incidents,
    patterns,
    decisions,
  }: {
    entries: readonly Entry[];
    notMeasured: readonly NotMeasured[];
    incidents: readonly KeptIncident[];
    patterns: readonly PatternNote[];
    decisions: readonly Decision[];
  },
): ReportLine[] {
  const titles = new Map(goals.map((goal) => [goal.goalId, goal.title]));
  const titleOf = (goalId: string) => titles.get(goalId) ?? "Goal";
  const lines = [
    ...entries.map(({ entryId, goalId, on, time, author, note, revision, ...recorded }) => ({
      entryId,
      on,
      time,
      author,
      revision,
      page: `entries/${entryId}`,
      ...entryLine(titleOf(goalId), recorded, note),
    })),
    ...notMeasured.map(({ noteId, goalId, on, time, author, reason, note }) => ({
      entryId: noteId,
      on,
      time,
      author,
      revision: 1,
      page: `not-measured/${noteId}`,
      ...notMeasuredLine(titleOf(goalId), reason, note),
    })),
    ...incidents.map((incident) => ({
      entryId: incident.incidentId,
      on: incident.on,
      time: incident.at ?? incident.period ?? "",
      author: incident.author,
      revision: incident.revision,
      page: `incidents/${incident.incidentId}`,
      ...incidentLine(incident),
    })),
    ...patterns.map((pattern) => ({
      entryId: pattern.noteId,
      on: pattern.on,
      time: pattern.time,
      author: pattern.author,
      revision: 1,
      page: `noted/${pattern.noteId}`,
      ...patternLine(pattern),
    })),
    ...decisions
      .filter(({ removed }) => removed === null)
      .map((decision) => ({
        entryId: decision.decisionId,
        on: decision.on,
        time: "",
        author: decision.author,
        revision: 1,
        page: `decisions/${decision.decisionId}`,
        ...decisionLine(titleOf(decision.goalId), decision),
      })),
  ];
  return lines.sort((a, b) =>
    `${a.on} ${a.time}` < `${b.on} ${b.time}` ? 1 : `${a.on} ${a.time}` > `${b.on} ${b.time}` ? -1 : 0,
  );
}
