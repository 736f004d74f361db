import { type Audience, audiences } from "#core/report/audience.ts";
import type { ReportOrder } from "#core/report/document.ts";
import { type LastEdition, type NamedSpan, readReportSpan, reportSpans } from "#core/report/report-spans.ts";
import type { SchoolCalendar } from "#core/schedule/calendar.ts";

/** Which report an address asks for: its span, its order, and whether the log is wanted in full. */
export function readReportAddress(
  search: string,
  calendar: SchoolCalendar,
  today: string,
  lastEdition: LastEdition | null = null,
): { spans: NamedSpan[]; chosen: NamedSpan; order: ReportOrder; audience: Audience; all: boolean } {
  const asked = new URLSearchParams(search);
  const spans = reportSpans(calendar, today, lastEdition);
  return {
    spans,
    chosen: readReportSpan(asked, spans, today),
    order: asked.get("by") === "goal" ? "goal" : "time",
    audience: audiences.find((one) => one === asked.get("for")) ?? "team",
    all: asked.has("all"),
  };
}
