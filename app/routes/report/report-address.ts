import type { ReportOrder } from "#core/report/document.ts";
import { type NamedSpan, readReportSpan, reportSpans } from "#core/report/report-spans.ts";
import type { SchoolCalendar } from "#core/schedule/calendar.ts";

/** Which report an address asks for: its span, its order, and whether the log is wanted in full. */
export function readReportAddress(
  search: string,
  calendar: SchoolCalendar,
  today: string,
): { spans: NamedSpan[]; chosen: NamedSpan; order: ReportOrder; all: boolean } {
  const asked = new URLSearchParams(search);
  const spans = reportSpans(calendar, today);
  return {
    spans,
    chosen: readReportSpan(asked, spans, today),
    order: asked.get("by") === "goal" ? "goal" : "time",
    all: asked.has("all"),
  };
}
