import type { PersonScope } from "#server/access/scope.ts";
import { listDecisions } from "#server/db/decisions.ts";
import { listEntries } from "#server/db/entry-lists.ts";
import { listIncidents } from "#server/db/incident-lists.ts";
import { listNotMeasured } from "#server/db/not-measured.ts";
import { listPatternNotes } from "#server/db/pattern-notes.ts";
import type { Goal } from "#server/db/rows.ts";
import { type ReportLine, reportLines } from "#app/ui/report-lines.ts";

/** The newest lines of a student's report, and whether there are more. */
export async function readReportLines(
  scope: PersonScope,
  studentId: string,
  goals: readonly Goal[],
  limit: number,
): Promise<{ lines: ReportLine[]; more: boolean }> {
  const newest = { limit: limit + 1 };
  const lines = reportLines(goals, {
    entries: await listEntries(scope, studentId, newest),
    notMeasured: await listNotMeasured(scope, studentId, newest),
    incidents: await listIncidents(scope, studentId, newest),
    patterns: await listPatternNotes(scope, studentId, newest),
    decisions: await listDecisions(scope, studentId),
  });
  return { lines: lines.slice(0, limit), more: lines.length > limit };
}
