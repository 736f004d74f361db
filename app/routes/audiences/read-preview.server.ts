import type { Audience, AudienceSettings } from "#core/report/audience.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { readReportFor } from "#server/db/report-for.ts";
import { readReportAddress } from "../report/report-address.ts";

/** So many lines of the log show how it reads. */
const someLines = 12;

/** A student's report of this year as an audience reads it, with a few lines of the log; with settings that are not saved where given. */
export async function readPreview(
  scope: PersonScope,
  studentId: string,
  audience: Audience,
  settings?: AudienceSettings,
) {
  const calendar = await readCalendar(scope);
  const { chosen } = readReportAddress("", calendar, scope.today);
  return readReportFor(scope, studentId, {
    ...{ audience, settings, calendar, order: "time", limit: someLines },
    span: { from: chosen.from, to: chosen.to },
  });
}
