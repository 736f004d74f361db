import { audiences } from "#core/report/audience.ts";
import { authorize } from "#server/access/authorize.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { readReportFor } from "#server/db/report-for.ts";
import { notFound } from "#server/errors.ts";
import { readReportAddress } from "../report/report-address.ts";
import { readAudience } from "./read-audience.ts";
import type { Route } from "./+types/preview";

/** So many lines of the log show how it reads. */
const someLines = 12;

/** A student's report as it would read with settings that are being chosen: with their real data, and a few lines of the log. */
export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "edition.make", params.studentId, async (scope) => {
    const { searchParams } = new URL(request.url);
    const audience = audiences.find((one) => one === params.audience) ?? notFound();
    const calendar = await readCalendar(scope);
    const { chosen } = readReportAddress("", calendar, scope.today);
    const { report } = await readReportFor(scope, params.studentId, {
      ...{ audience, calendar, order: "time", limit: someLines },
      span: { from: chosen.from, to: chosen.to },
      settings: readAudience(Object.fromEntries(searchParams)) ?? undefined,
    });
    return { report };
  });
}
