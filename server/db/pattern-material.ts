import type { PatternMaterial } from "#core/incidents/choose.ts";
import { observedDays } from "#core/incidents/observed-days.ts";
import { reportingSpans } from "#core/schedule/reporting-spans.ts";
import { type SchoolCalendar, schoolYearOn } from "#core/schedule/calendar.ts";
import { dateOfDay, dayNumber } from "#core/dates/day-number.ts";
import type { Scope } from "../access/scope.ts";
import { readCalendar, readTimetable } from "./calendar.ts";
import { readIncidentSettings } from "./incident-settings.ts";
import { listPatternIncidents } from "./incident-lists.ts";
import { listPlans } from "./plans.ts";
import type { Plan } from "#core/model/plan.ts";
import { listAbsences } from "./students.ts";
import { listWatched } from "./watched-days.ts";

/** What was recorded and watched of a student on the school days of a span. */
export async function readObserved(
  scope: Scope,
  studentId: string,
  span: { from: string; to: string },
  { calendar, absences }: { calendar: SchoolCalendar; absences: readonly string[] },
): Promise<Pick<PatternMaterial, "incidents" | "days" | "silentDays" | "notWatched">> {
  const incidents = await listPatternIncidents(scope, studentId, span);
  const said = await listWatched(scope, studentId, span.from);
  const whole = said.filter(({ period }) => period === "");
  const daysOf = (state: "none" | "not observed") =>
    whole.flatMap((one) => (one.state === state ? [one.on] : []));
  const { days, silent } = observedDays(
    calendar,
    span,
    { absences, notObserved: daysOf("not observed"), none: daysOf("none") },
    new Set(incidents.map(({ on }) => on)),
  );
  return {
    ...{ incidents, days, silentDays: silent },
    notWatched: said.flatMap(({ on, period, state }) =>
      period !== "" && state === "not observed" ? [`${on} ${period}`] : [],
    ),
  };
}

/** Everything of this school year and the one before from which the patterns of a student are chosen. */
export async function readPatternMaterial(
  scope: Scope,
  studentId: string,
): Promise<{ material: PatternMaterial; plans: Plan[]; strengths: readonly string[] }> {
  const calendar = await readCalendar(scope);
  const today = scope.today;
  const yearFrom = schoolYearOn(calendar, today)?.fromOn ?? dateOfDay(dayNumber(today) - 364);
  const earliest = dateOfDay(dayNumber(yearFrom) - 365);
  const absences = await listAbsences(scope, studentId);
  const observed = await readObserved(
    scope,
    studentId,
    { from: earliest, to: today },
    { calendar, absences },
  );
  const { bands, strengths } = await readIncidentSettings(scope);
  const plans = await listPlans(scope, studentId);
  return {
    plans,
    strengths,
    material: {
      ...observed,
      ...{ bands, earliest, yearFrom, today },
      periods: await readTimetable(scope),
      reporting: reportingSpans(calendar, today, earliest),
      plans: plans
        .filter(({ state }) => state === "kept")
        .map(({ planId, name, beginsOn, endsOn }) => ({ planId, name, beginsOn, endsOn })),
    },
  };
}
