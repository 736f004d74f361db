import { authorize } from "#server/access/authorize.ts";
import { listAccess } from "#server/db/access-record.ts";
import { findStudent } from "#server/db/students.ts";
import { beforeAndAfter } from "#core/words/events.ts";
import { csvOf } from "#app/ui/csv.server.ts";
import { actorWords, didWords, wayWords, whyWords } from "#app/ui/event-list.tsx";
import { readEventFilter } from "./access-filter.ts";
import type { Route } from "./+types/access-csv";

/** So many lines are in one file; older ones are fetched by choosing earlier days. */
const most = 20_000;

/** The access record of a student as a table, as far as the page's choices reach. */
export function loader({ request, context, params: { studentId } }: Route.LoaderArgs) {
  const filter = readEventFilter(new URL(request.url).searchParams);
  return authorize(request, context, "access-record.read", studentId, async (scope) => {
    const { initials } = await findStudent(scope, studentId);
    const lines = await listAccess(scope, studentId, filter, most);
    return csvOf(
      {
        head: ["Day", "Time", "Staff or outside", "Who", "What", "How", "Why", "Before and after"],
        rows: lines.map((line) => ({
          cells: [
            ...[line.at.slice(0, 10), line.at.slice(11, 16), line.isOutside ? "outside" : "staff"],
            ...[actorWords("en", line), didWords("en", line), wayWords("en", line), whyWords("en", line)],
            line.changes.flatMap(({ changes }) => (changes ? beforeAndAfter(changes) : [])).join("; "),
          ],
        })),
      },
      `${initials.replace(/[^\p{L}\p{N}]/gu, "")}-access-record-${scope.today}`,
    );
  });
}
