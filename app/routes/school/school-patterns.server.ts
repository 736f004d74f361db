import { binSizes, dailyCounts } from "#core/incidents/patterns.ts";
import { rateChange } from "#core/incidents/rate.ts";
import { type SchoolIncident, schoolPatternsOf } from "#core/incidents/school-patterns.ts";
import { daysInSession, schoolYearOn } from "#core/schedule/calendar.ts";
import { dateOfDay, dayNumber, isDate } from "#core/dates/day-number.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { readCalendar, readTimetable } from "#server/db/calendar.ts";
import { listGroups } from "#server/db/groups.ts";
import { readIncidentSettings } from "#server/db/incident-settings.ts";
import { listSchoolIncidents } from "#server/db/incident-lists.ts";
import { comparisons, schoolSpans } from "./school-tables.ts";

/** What an address chooses of a school's incidents, counted without names. */
export async function readSchoolPatterns(scope: PersonScope, search: URLSearchParams) {
  const calendar = await readCalendar(scope);
  const today = scope.today;
  const length = schoolSpans.find(([days]) => days !== "" && days === search.get("span"))?.[0] ?? "";
  const yearFrom = schoolYearOn(calendar, today)?.fromOn ?? dateOfDay(dayNumber(today) - 364);
  const from = length === "" ? yearFrom : dateOfDay(dayNumber(today) - Number(length) + 1);
  const groups = (await listGroups(scope)).map(({ groupId, name }) => ({ groupId, name }));
  const groupId = groups.find((group) => group.groupId === search.get("group"))?.groupId ?? null;
  const bins = binSizes.find((size) => size === search.get("by")) ?? "week";
  const { strengths, bands } = await readIncidentSettings(scope);
  const periods = await readTimetable(scope);
  // A day with an incident was one of school, whatever the calendar says.
  const daysOf = (incidents: readonly SchoolIncident[], first: string, last: string) =>
    [...new Set([...daysInSession(calendar, first, last), ...incidents.map(({ on }) => on)])].sort();
  const count = (incidents: readonly SchoolIncident[], first: string, last: string) =>
    schoolPatternsOf({
      ...{ incidents, from: first, to: last, bins, bands, periods },
      days: daysOf(incidents, first, last),
    });
  const all = await listSchoolIncidents(scope, { from, to: today }, groupId);
  const everything = count(all, from, today);
  // Only what may be seen can be chosen.
  const offered = (aspect: "behavior" | "setting") =>
    everything?.labels[aspect].counts.map(({ label }) => label) ?? [];
  const asked = (aspect: "behavior" | "setting") =>
    offered(aspect).find((label) => label === search.get(aspect)) ?? "";
  const [behavior, setting] = [asked("behavior"), asked("setting")];
  const wanted = (one: SchoolIncident) =>
    saidIn(one.behaviors, behavior) && saidIn(one.setting === null ? [] : [one.setting], setting);
  const incidents = all.filter(wanted);
  const patterns = incidents.length === all.length ? everything : count(incidents, from, today);
  const compare = comparisons.find(([value]) => value === search.get("compare"))?.[0] ?? "";
  const dayBefore = (date: string) => dateOfDay(dayNumber(date) - 1);
  const askedDay = search.get("day") ?? "";
  // Without a day that lies within, the middle of the span parts it.
  const day =
    isDate(askedDay) && from < askedDay && askedDay <= today
      ? askedDay
      : dateOfDay(Math.ceil((dayNumber(from) + dayNumber(today)) / 2));
  const [beforeFrom, beforeTo, since] =
    compare === "around"
      ? [from, dayBefore(day), day]
      : [dateOfDay(2 * dayNumber(from) - dayNumber(today) - 1), dayBefore(from), from];
  const before =
    compare === "before"
      ? (await listSchoolIncidents(scope, { from: beforeFrom, to: beforeTo }, groupId)).filter(wanted)
      : incidents.filter(({ on }) => on < since);
  const after = incidents.filter(({ on }) => on >= since);
  return {
    ...{ patterns, groups, groupId: groupId ?? "", bins, span: length, from, to: today, strengths },
    ...{ behavior, setting, behaviors: offered("behavior"), settings: offered("setting"), compare, day },
    // A part of the span with too few students is left out, as a span of its own would be.
    change:
      compare !== "" && patterns && count(before, beforeFrom, beforeTo) && count(after, since, today)
        ? rateChange(
            dailyCounts(before, daysOf(before, beforeFrom, beforeTo)),
            dailyCounts(after, daysOf(after, since, today)),
          )
        : null,
  };
}

/** Is a label among these, whatever its capitals? No label asked for is among any. */
const saidIn = (labels: readonly string[], wanted: string): boolean =>
  wanted === "" || labels.some((label) => label.toLocaleLowerCase() === wanted.toLocaleLowerCase());
