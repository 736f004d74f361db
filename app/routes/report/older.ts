import { authorize } from "#server/access/authorize.ts";
import { composeLog } from "#core/report/compose-report.ts";
import { readLineKey, readReport } from "#server/db/report.ts";
import { listGoals } from "#server/db/students.ts";
import type { Route } from "./+types/older";
import { reportLength } from "./report-length.ts";

/** The part of a report that is older than a line: the page asks for it as one scrolls. */
export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "report.read", params.studentId, async (scope) => {
    // Without a line's key, or with what is none, it begins at the newest.
    const before = readLineKey(new URL(request.url).searchParams.get("before"));
    const goals = await listGoals(scope, params.studentId);
    const { next, ...part } = await readReport(scope, params.studentId, { before, limit: reportLength });
    return { blocks: composeLog({ goals, ...part }).blocks, next };
  });
}
