import type { Audience, AudienceSettings } from "#core/report/audience.ts";
import { composeReport } from "#core/report/compose-report.ts";
import type { ReportDocument, ReportOrder, ReportSpan } from "#core/report/document.ts";
import type { SchoolCalendar } from "#core/schedule/calendar.ts";
import type { Scope } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import { findAudience } from "./audiences.ts";
import { readReportMaterial } from "./report-material.ts";

/**
 * A student's report for an audience, as its settings say it: of the student where they have their own, else of the school.
 *
 * @param limit so many lines of the log, or all where it is null
 * @param settings in place of those that are saved, to be looked at before they are
 * @returns also the key of the last line, where there are older ones
 * @throws NotFound where the school has no such audience
 */
export async function readReportFor(
  scope: Scope,
  studentId: string,
  {
    audience,
    settings,
    ...asked
  }: {
    audience: Audience;
    settings?: AudienceSettings | undefined;
    span: ReportSpan;
    order: ReportOrder;
    limit: number | null;
    calendar: SchoolCalendar;
    withData?: boolean;
  },
): Promise<{ report: ReportDocument; settings: AudienceSettings; initials: string; next: string | null }> {
  const found = await findAudience(scope, studentId, audience);
  // An audience that is being added is looked at before it is there.
  const chosen = settings ?? found?.settings ?? notFound();
  const { material, initials, next } = await readReportMaterial(scope, studentId, asked);
  const { span, order, withData = false } = asked;
  return {
    report: composeReport(material, {
      audience,
      span,
      order,
      settings: chosen,
      audienceName: found?.name ?? null,
      withData,
    }),
    ...{ settings: chosen, initials, next },
  };
}
