import { Link } from "react-router";
import { authorize } from "#server/access/authorize.ts";
import { may } from "#server/access/table.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { noteReportView } from "#server/db/circle.ts";
import { listEditions } from "#server/db/editions.ts";
import { readReportFor } from "#server/db/report-for.ts";
import type { ReportSection } from "#core/report/document.ts";
import { useArrivals } from "#app/ui/arrivals.ts";
import { lastHeading, layoutOf, ReportBlocks } from "#app/report/report-blocks.tsx";
import { OlderLines } from "#app/report/older-lines.tsx";
import { ReportSheet } from "#app/report/report-sheet.tsx";
import { PageTitle } from "#app/ui/page-title.tsx";
import { ChooseReport } from "./choose-report.tsx";
import { readReportAddress } from "./report-address.ts";
import { firstLines } from "./report-length.ts";
import { fillScreen } from "#app/routes/meeting/wall.ts";
import type { Route } from "./+types/report";

export function loader({ request, context, params }: Route.LoaderArgs) {
  return authorize(request, context, "report.read", params.studentId, async (scope) => {
    const { studentId } = params;
    const calendar = await readCalendar(scope);
    const { search } = new URL(request.url);
    const [last] = await listEditions(scope, studentId);
    const { spans, chosen, order, all } = readReportAddress(
      search,
      calendar,
      scope.today,
      last ? { number: last.number, to: last.span.to } : null,
    );
    const span = { from: chosen.from, to: chosen.to };
    await noteReportView(scope, studentId);
    const { report, initials, next } = await readReportFor(scope, studentId, {
      ...{ audience: "team", span, order, calendar },
      limit: all ? null : firstLines,
    });
    return {
      ...{ studentId, initials, next, chosen, order },
      spans: spans.map(({ key, words }) => ({ key, words })),
      report,
      mayFile: may(scope.actor, "file.make", { circleRole: scope.circleRole }),
    };
  });
}

/** The log; what arrives in it while one looks is marked. */
function Log({
  studentId,
  section: { blocks, ...drawn },
  next,
}: {
  studentId: string;
  section: ReportSection;
  next: string | null;
}) {
  const arrived = useArrivals(
    blocks.flatMap((block) => (block.kind === "line" ? block.line : [])),
    null,
  );
  return (
    <>
      <ReportBlocks {...{ studentId, blocks, arrived, ...layoutOf(drawn) }} />
      {next ? (
        <OlderLines key={next} studentId={studentId} before={next} after={lastHeading(blocks)} />
      ) : null}
    </>
  );
}

export default function Report({
  loaderData: { studentId, initials, report, next, spans, chosen, order, mayFile },
}: Route.ComponentProps) {
  return (
    <main id="page" className="page-body min-w-0 px-8 py-6 max-sm:px-4">
      <div className="no-print mx-auto mb-4 flex max-w-[58rem] flex-wrap items-start gap-2">
        <ChooseReport {...{ spans, chosen, order }} />
        <button type="button" className="btn btn-plain with-scripts ml-auto" onClick={() => window.print()}>
          Print
        </button>
        {mayFile ? (
          <Link
            to={`/students/${studentId}/meeting`}
            className="btn btn-plain"
            // In a tab of its own it fills nothing here.
            onClick={(press) => press.ctrlKey || press.metaKey || press.shiftKey || fillScreen()}
          >
            Meeting
          </Link>
        ) : null}
        {mayFile ? (
          <Link to={`/students/${studentId}/files`} className="btn btn-plain">
            Files
          </Link>
        ) : null}
        <Link to={`/students/${studentId}/editions`} className="btn btn-plain">
          Editions
        </Link>
        <Link to={`/students/${studentId}`} className="btn btn-plain">
          Goals
        </Link>
      </div>
      <ReportSheet
        report={report}
        studentId={studentId}
        heading={
          <PageTitle title="Report" of={initials} className="text-[1.9rem] leading-tight font-semibold">
            {report.title}
          </PageTitle>
        }
        log={(section) => (
          <Log key={`${chosen.from ?? ""} ${chosen.to} ${order}`} {...{ studentId, section, next }} />
        )}
      />
    </main>
  );
}
