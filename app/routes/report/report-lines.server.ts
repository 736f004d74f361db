import { type ReportLine, reportLines } from "#core/report/report-lines.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { readReport } from "#server/db/report.ts";
import type { Goal } from "#core/model/goal.ts";

/** Lines of a student's report, newest first, and the key of the last where there are older ones. */
export async function readReportLines(
  scope: PersonScope,
  studentId: string,
  goals: readonly Goal[],
  part: Parameters<typeof readReport>[2],
): Promise<{ lines: ReportLine[]; next: string | null }> {
  const { record, order, next } = await readReport(scope, studentId, part);
  return { lines: reportLines(goals, record, order), next };
}
