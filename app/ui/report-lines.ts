import { entryLine } from "#core/report/entry-line.ts";
import type { Entry, Goal } from "#server/db/rows.ts";

/** One line of the report, as its readers see it. */
export interface ReportLine {
  entryId: string;
  on: string;
  time: string;
  author: string;
  sentence: string;
  note: string | null;
  revision: number;
}

export function reportLines(entries: readonly Entry[], goals: readonly Goal[]): ReportLine[] {
  const titles = new Map(goals.map((goal) => [goal.goalId, goal.title]));
  return entries.map(({ entryId, goalId, on, time, author, note, revision, ...recorded }) => ({
    entryId,
    on,
    time,
    author,
    revision,
    ...entryLine(titles.get(goalId) ?? "Goal", recorded, note),
  }));
}
