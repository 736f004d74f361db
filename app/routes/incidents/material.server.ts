import type { PatternMaterial } from "#core/incidents/choose.ts";
import { observedDays } from "#core/incidents/observed-days.ts";
import { reportingSpans } from "#core/schedule/reporting-spans.ts";
import { schoolYearOn } from "#core/schedule/calendar.ts";
import { dateOfDay, dayNumber } from "#core/dates/day-number.ts";
import type { PersonScope } from "#server/access/scope.ts";
import { readCalendar, readTimetable } from "#server/db/calendar.ts";
import { readIncidentSettings } from "#server/db/incident-settings.ts";
import { listPatternIncidents } from "#server/db/incident-lists.ts";
import { listPlans } from "#server/db/plans.ts";
import type { Plan } from "#core/model/plan.ts";
import { listAbsences } from "#server/db/students.ts";
import { listWatched } from "#server/db/watched-days.ts";

/** Everything of this school year and the one before from which the patterns of a student are chosen. */
export async function readMaterial(
  scope: PersonScope,
  studentId: string,
): Promise<{ material: PatternMaterial; plans: Plan[]; strengths: readonly string[] }> {
  const calendar = await readCalendar(scope);
  const today = scope.today;
  const yearFrom = schoolYearOn(calendar, today)?.fromOn ?? dateOfDay(dayNumber(today) - 364);
  const earliest = dateOfDay(dayNumber(yearFrom) - 365);
  const incidents = await listPatternIncidents(scope, studentId, { from: earliest, to: today });
  const said = await listWatched(scope, studentId, earliest);
  const whole = said.filter(({ period }) => period === "");
  const daysOf = (state: "none" | "not observed") =>
    whole.flatMap((one) => (one.state === state ? [one.on] : []));
  const { days, silent } = observedDays(
    calendar,
    { from: earliest, to: today },
    {
      absences: await listAbsences(scope, studentId),
      notObserved: daysOf("not observed"),
      none: daysOf("none"),
    },
    new Set(incidents.map(({ on }) => on)),
  );
  const { bands, strengths } = await readIncidentSettings(scope);
  const plans = await listPlans(scope, studentId);
  return {
    plans,
    strengths,
    material: {
      ...{ incidents, days, silentDays: silent, bands, earliest, yearFrom, today },
      notWatched: said.flatMap(({ on, period, state }) =>
        period !== "" && state === "not observed" ? [`${on} ${period}`] : [],
      ),
      periods: await readTimetable(scope),
      reporting: reportingSpans(calendar, today, earliest),
      plans: plans
        .filter(({ state }) => state === "kept")
        .map(({ planId, name, beginsOn, endsOn }) => ({ planId, name, beginsOn, endsOn })),
    },
  };
}
