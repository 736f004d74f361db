import { binSizes } from "#core/incidents/patterns.ts";
import { schoolPatternsOf } from "#core/incidents/school-patterns.ts";
import { daysInSession, schoolYearOn } from "#core/schedule/calendar.ts";
import { dateOfDay, dayNumber } from "#core/progress/day-number.ts";
import type { Visit } from "#server/access/visit.ts";
import { readCalendar, readTimetable } from "#server/db/calendar.ts";
import { listGroups } from "#server/db/groups.ts";
import { readIncidentSettings } from "#server/db/incident-settings.ts";
import { listSchoolIncidents } from "#server/db/incident-lists.ts";
import { schoolNow } from "#server/db/school-time.ts";
import { schoolSpans } from "./school-tables.ts";

/** What an address chooses of a school's incidents, counted without names. */
export async function readSchoolPatterns(visit: Visit, search: URLSearchParams) {
  const calendar = await readCalendar(visit);
  const today = (await schoolNow(visit.trx, visit.person.timeZone)).slice(0, 10);
  const length = schoolSpans.find(([days]) => days !== "" && days === search.get("span"))?.[0] ?? "";
  const yearFrom = schoolYearOn(calendar, today)?.fromOn ?? dateOfDay(dayNumber(today) - 364);
  const from = length === "" ? yearFrom : dateOfDay(dayNumber(today) - Number(length) + 1);
  const groups = (await listGroups(visit)).map(({ groupId, name }) => ({ groupId, name }));
  const groupId = groups.find((group) => group.groupId === search.get("group"))?.groupId ?? null;
  const bins = binSizes.find((size) => size === search.get("by")) ?? "week";
  const incidents = await listSchoolIncidents(visit, { from, to: today }, groupId);
  const { strengths, bands } = await readIncidentSettings(visit);
  const patterns = schoolPatternsOf({
    ...{ incidents, from, to: today, bins, bands },
    days: daysInSession(calendar, from, today),
    periods: await readTimetable(visit),
  });
  return { patterns, groups, groupId: groupId ?? "", bins, span: length, from, to: today, strengths };
}
