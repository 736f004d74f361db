import { dateOfDay, dayNumber } from "#core/dates/day-number.ts";
import { isOfSpan } from "#core/report/compose-goal.ts";
import type { ReportMaterial } from "#core/report/compose-report.ts";
import type { ReportOrder, ReportSpan } from "#core/report/document.ts";
import type { SchoolCalendar } from "#core/schedule/calendar.ts";
import type { Scope } from "../access/scope.ts";
import { listDecisions } from "./decisions.ts";
import { listEntriesOfGoals } from "./entry-lists.ts";
import { listCircle, listRenamedPartsOf } from "./goals.ts";
import { listJotCategories } from "./jot-categories.ts";
import { listJots } from "./jots.ts";
import { readSchoolName } from "./locale.ts";
import { listMeetingNotes } from "./meetings.ts";
import { listNotMeasured } from "./not-measured.ts";
import { readTimetable } from "./calendar.ts";
import { listPatternNotes } from "./pattern-notes.ts";
import { readObserved } from "./pattern-material.ts";
import { listPlans } from "./plans.ts";
import { listReadyStatements } from "./progress-statements.ts";
import { listParentStatements } from "./rights.ts";
import { listSecondRatings } from "./second-observations.ts";
import { readReport } from "./report.ts";
import { findStudent, listAbsences, listGoals } from "./students.ts";

/** So many of the latest that were not measured stand in charts. */
const mostNotMeasured = 400;
/** As far back as incidents are looked for where the school has no earlier year. */
const longAgo = 10 * 366;

/** From which day incidents are counted: the span's first, or the first of the reporting period before its last day's. */
function countedFrom({ from, to }: ReportSpan, { reportingPeriods, years }: SchoolCalendar): string {
  if (from === null)
    return years.reduce(
      (first, { fromOn }) => (fromOn < first ? fromOn : first),
      dateOfDay(dayNumber(to) - longAgo),
    );
  const before = reportingPeriods
    .filter(({ toOn }) => toOn < to)
    .sort((a, b) => (a.toOn < b.toOn ? 1 : -1))[0];
  return before && before.fromOn < from ? before.fromOn : from;
}

/**
 * Reads everything of which a student's report of a span is composed. It takes a fixed number of statements.
 *
 * @param limit so many lines of the log, or all where it is null
 * @param withData also what only files hold
 * @returns also the key of the last line, where there are older ones
 */
export async function readReportMaterial(
  scope: Scope,
  studentId: string,
  {
    span,
    order,
    limit,
    calendar,
    withData = false,
  }: {
    span: ReportSpan;
    order: ReportOrder;
    limit: number | null;
    calendar: SchoolCalendar;
    withData?: boolean;
  },
): Promise<{ material: ReportMaterial; initials: string; next: string | null }> {
  const student = await findStudent(scope, studentId);
  const goals = await listGoals(scope, studentId);
  const shown = goals.filter((goal) => isOfSpan(goal, span)).map(({ goalId }) => goalId);
  const entries = await listEntriesOfGoals(scope, shown, span.to);
  const renamed = await listRenamedPartsOf(scope, shown);
  const absences = await listAbsences(scope, studentId);
  const { next, ...log } = await readReport(scope, studentId, { span, order, limit });
  const counted = { from: countedFrom(span, calendar), to: span.to };
  return {
    initials: student.initials,
    next,
    material: {
      ...{ student, goals, absences, calendar, ...log },
      ...{ schoolName: await readSchoolName(scope), today: scope.today },
      circle: await listCircle(scope, studentId),
      entriesOf: (goalId) => entries.get(goalId) ?? [],
      renamedOf: (goalId) => renamed.get(goalId) ?? new Map(),
      decisions: (await listDecisions(scope, studentId)).filter(({ removed }) => removed === null),
      notMeasured: await listNotMeasured(scope, studentId, { limit: mostNotMeasured }),
      jots: {
        jots: await listJots(scope, studentId, { span }),
        categories: await listJotCategories(scope),
      },
      calledName: student.calledName,
      meetingNotes: await listMeetingNotes(scope, studentId, span),
      ratings: await listSecondRatings(scope, studentId),
      statements: await listReadyStatements(scope, studentId),
      parentStatements: (await listParentStatements(scope, studentId)).filter(
        ({ withdrawn }) => withdrawn === null,
      ),
      behavior: {
        calendar,
        patterns: {
          ...(await readObserved(scope, studentId, counted, { calendar, absences })),
          ...(withData ? { periods: await readTimetable(scope) } : {}),
        },
        plans: (await listPlans(scope, studentId)).filter(({ state }) => state === "kept"),
        findings: await listPatternNotes(scope, studentId, {}),
      },
    },
  };
}
