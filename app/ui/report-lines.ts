import { entryLine, notMeasuredLine } from "#core/report/entry-line.ts";
import type { Entry, Goal } from "#server/db/rows.ts";
import type { NotMeasured } from "#server/db/not-measured.ts";

/** One line of the report, as its readers see it. */
export interface ReportLine {
  entryId: string;
  on: string;
  time: string;
  author: string;
  sentence: string;
  note: string | null;
  revision: number;
  /** Its own page, below the student's. */
  page: string;
}

/** Entries, and what was to be measured and was not, newest first. Both lists come newest first. */
export function reportLines(
  entries: readonly Entry[],
  goals: readonly Goal[],
  notMeasured: readonly NotMeasured[],
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
  ];
  return lines.sort((a, b) =>
    `${a.on} ${a.time}` < `${b.on} ${b.time}` ? 1 : `${a.on} ${a.time}` > `${b.on} ${b.time}` ? -1 : 0,
  );
}
