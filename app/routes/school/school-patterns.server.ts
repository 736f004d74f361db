import { dailyCounts } from "#core/incidents/patterns.ts";
import { rateChange } from "#core/incidents/rate.ts";
import { schoolPatternsOf } from "#core/incidents/school-patterns.ts";
import { type SchoolSpan, schoolSpans } from "#core/incidents/school-spans.ts";
import { daysInSession } from "#core/schedule/calendar.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { readCalendar, readTimetable } from "#server/db/calendar.ts";
import { readIncidentSettings } from "#server/db/incident-settings.ts";
import { listSchoolIncidentDays, listSchoolIncidents } from "#server/db/incident-lists.ts";

/** The incidents of a school in the span that an address chooses, counted without names; the newest span where it chooses none. */
export async function readSchoolPatterns(scope: PersonScope, search: URLSearchParams) {
  const calendar = await readCalendar(scope);
  const { strengths, bands } = await readIncidentSettings(scope);
  const periods = await readTimetable(scope);
  const spans = schoolSpans(await listSchoolIncidentDays(scope), scope.today).reverse();
  const at = Math.max(
    0,
    spans.findIndex(({ from }) => from === search.get("span")),
  );
  const read = async ({ from, to }: SchoolSpan) => {
    const incidents = await listSchoolIncidents(scope, { from, to });
    // A day with an incident was one of school, whatever the calendar says.
    const days = [
      ...new Set([...daysInSession(calendar, from, to), ...incidents.map(({ on }) => on)]),
    ].sort();
    return {
      patterns: schoolPatternsOf({ incidents, from, to, days, bands, periods }),
      counts: dailyCounts(incidents, days),
    };
  };
  const [span, before] = [spans[at], spans[at + 1]];
  const now = span ? await read(span) : null;
  return {
    ...{ spans, span: span ?? null, before: before ?? null, strengths },
    patterns: now?.patterns ?? null,
    change: now && before ? rateChange((await read(before)).counts, now.counts) : null,
  };
}
