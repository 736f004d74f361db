import { authorize } from "#server/access/authorize.ts";
import { layoutOf } from "#app/report/report-blocks.tsx";
import { catalogueOf } from "#core/words/catalogues.ts";
import { notFound } from "#server/errors.ts";
import { findAudience } from "#server/db/audiences.ts";
import { composeLog } from "#core/report/compose-log.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { listEditions } from "#server/db/editions.ts";
import { readLineKey, readReport } from "#server/db/report.ts";
import { listGoals } from "#server/db/students.ts";
import type { Route } from "./+types/older";
import { readReportAddress } from "./report-address.ts";
import { laterLines } from "./report-length.ts";

/** The part of a report that is older than a line: the page asks for it as one scrolls. */
export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "report.read", params.studentId, async (scope) => {
    // Without a line's key, or with what is none, it begins at the newest.
    const { search, searchParams } = new URL(request.url);
    const before = readLineKey(searchParams.get("before"));
    const calendar = await readCalendar(scope);
    const [last] = await listEditions(scope, params.studentId);
    const { chosen: span, order } = readReportAddress(
      search,
      calendar,
      scope.today,
      last ? { number: last.number, to: last.span.to } : null,
    );
    const goals = await listGoals(scope, params.studentId);
    const { next, ...part } = await readReport(scope, params.studentId, {
      ...{ before, span, order, limit: laterLines },
    });
    const { settings } = (await findAudience(scope, params.studentId, "team")) ?? notFound();
    const words = catalogueOf(settings.language);
    const { blocks, ...drawn } = composeLog({ goals, ...part }, { settings, span, order }, words);
    return { blocks, ...layoutOf(drawn), next };
  });
}
