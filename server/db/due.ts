import type { SchoolCalendar } from "#core/schedule/calendar.ts";
import { type DueData, dueData } from "#core/schedule/due-data.ts";
import type { Schedule } from "#core/schedule/schedule.ts";
import { weekOf } from "#core/dates/week.ts";
import { groupBy } from "#core/lists/group-by.ts";
import { dateOfDay, dayNumber } from "#core/dates/day-number.ts";
import type { PersonScope, Scope } from "../access/scope.ts";
import { setUpOn } from "./rows.ts";
import { inCircle } from "./students.ts";

export interface GoalDue {
  goalId: string;
  studentId: string;
  due: DueData;
}

interface DueFacts {
  goal_id: string;
  student_id: string;
  schedule: Schedule;
  start_on: string | null;
  measured: string[];
  absences: string[];
}

/** What is asked of each goal with a schedule, and what this week brought so far; ended goals are left out. */
async function readDueFacts({ trx, schoolId }: Scope, personId: string, today: string): Promise<DueFacts[]> {
  const { rows } = await trx.raw<{ rows: DueFacts[] }>(
    `select g.goal_id, g.student_id, g.schedule, greatest(g.start_on, ${setUpOn}) as start_on,
       coalesce((select jsonb_agg(distinct e.observed_on) from entries e
         where e.school_id = g.school_id and e.goal_id = g.goal_id and e.state = 'kept' and e.observed_on >= :monday
           -- By the index, whatever the time zone: no day begins more than a day before it does elsewhere. Of one type on
           -- both sides: only such comparisons may be made before the rows of other schools are kept out.
           and e.observed_at >= (:monday::date - 1)::timestamptz), '[]') as measured,
       coalesce((select jsonb_agg(a.absent_on) from absences a
         where a.school_id = g.school_id and a.student_id = g.student_id and a.absent_on >= :monday), '[]') as absences
     from goals g join students st on st.school_id = g.school_id and st.student_id = g.student_id
     where g.school_id = :schoolId and st.left_on is null and g.schedule is not null and g.ended is null and ${inCircle}`,
    { schoolId, personId, monday: weekOf(today) },
  );
  return rows;
}

const dueAt = (facts: DueFacts, calendar: SchoolCalendar, today: string) =>
  dueData({
    schedule: facts.schedule,
    calendar,
    absences: facts.absences,
    measuredOn: facts.measured,
    startOn: facts.start_on,
    today,
  });

/** Which goals of the person's students ask for data this week; goals without a schedule and ended ones ask for nothing. */
export const listDue = (scope: PersonScope, calendar: SchoolCalendar, today: string): Promise<GoalDue[]> =>
  listDueOf(scope, scope.actor.personId, calendar, today);

/** The same of any person of the school, for work of the server itself. */
export async function listDueOf(
  scope: Scope,
  personId: string,
  calendar: SchoolCalendar,
  today: string = scope.today,
): Promise<GoalDue[]> {
  return (await readDueFacts(scope, personId, today)).map((facts) => ({
    goalId: facts.goal_id,
    studentId: facts.student_id,
    due: dueAt(facts, calendar, today),
  }));
}

/** On which of the next days each goal will be due, as far as is known today: a device without a network goes by it. */
export async function listDueDays(
  scope: PersonScope,
  calendar: SchoolCalendar,
  today: string,
  days: number,
): Promise<Map<string, string[]>> {
  const dates = Array.from({ length: days }, (_, ahead) => dateOfDay(dayNumber(today) + ahead));
  return new Map(
    (await readDueFacts(scope, scope.actor.personId, today)).map((facts) => [
      facts.goal_id,
      dates.filter((date) => dueAt(facts, calendar, date).state === "today"),
    ]),
  );
}

const recentDays = 60;

/** The days of the last two months on which each of the person's students was absent. */
export async function listRecentAbsences(
  { trx, schoolId, actor }: PersonScope,
  today: string,
): Promise<Map<string, string[]>> {
  const { rows } = await trx.raw<{ rows: { student_id: string; absent_on: string }[] }>(
    `select st.student_id, a.absent_on from absences a
     join students st on st.school_id = a.school_id and st.student_id = a.student_id
     where a.school_id = :schoolId and a.absent_on >= :since and ${inCircle}`,
    {
      schoolId,
      personId: actor.personId,
      since: dateOfDay(dayNumber(today) - recentDays),
    },
  );
  const days = groupBy(rows, ({ student_id }) => student_id);
  return new Map([...days].map(([studentId, list]) => [studentId, list.map(({ absent_on }) => absent_on)]));
}
