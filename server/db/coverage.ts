import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { Invalid, notFound } from "../errors.ts";
import { recordEvent } from "./events.ts";
import { inCircle } from "./students.ts";

/** What one person recorded of a goal on a day, with one purpose in one setting. */
export interface CoveredDay {
  goalId: string;
  on: string;
  /** Who observed: the observer that was named, else the author. */
  personId: string;
  purpose: string;
  setting: string | null;
  entries: number;
}

/** What was recorded of the goals of the person's students since a day, the earliest first. */
export async function listCoveredDays(
  { trx, schoolId, actor }: PersonScope,
  since: string,
): Promise<CoveredDay[]> {
  const { rows } = await trx.raw<{
    rows: {
      goal_id: string;
      on: string;
      person_id: string;
      purpose: string;
      setting: string | null;
      n: number;
    }[];
  }>(
    `select e.goal_id, e.observed_on as on, coalesce(e.observer_id, e.author_id) as person_id, e.purpose, e.setting, count(*)::int as n
     from entries e join students st on st.school_id = e.school_id and st.student_id = e.student_id
     where e.school_id = :schoolId and st.left_on is null and e.state = 'kept' and e.observed_on >= :since
       and e.observed_at >= (:since::date - 1)::timestamptz and ${inCircle}
     group by e.goal_id, e.observed_on, 3, e.purpose, e.setting order by e.observed_on`,
    { schoolId, personId: actor.personId, since },
  );
  return rows.map((row) => ({
    ...{ goalId: row.goal_id, on: row.on, personId: row.person_id, purpose: row.purpose },
    ...{ setting: row.setting, entries: row.n },
  }));
}

/** The days of data of each goal, over all its phases, and who observed as a second person on each. */
export async function listObservedDays(
  { trx, schoolId, actor }: PersonScope,
  goalIds: readonly string[],
): Promise<Map<string, { on: string; seconds: string[] }[]>> {
  const { rows } = await trx.raw<{ rows: { goal_id: string; days: { on: string; seconds: string[] }[] }[] }>(
    `select d.goal_id, jsonb_agg(jsonb_build_object('on', d.observed_on, 'seconds', coalesce(s.people, '[]')) order by d.observed_on) as days
     from (select distinct e.goal_id, e.student_id, e.observed_on from entries e
       where e.school_id = :schoolId and e.goal_id = any(:goalIds) and e.state = 'kept') d
     join students st on st.school_id = :schoolId and st.student_id = d.student_id
     left join lateral (select jsonb_agg(distinct s.person_id) as people from second_observations s
       where s.school_id = :schoolId and s.goal_id = d.goal_id and s.observed_on = d.observed_on and s.removed_at is null and not s.own) s on true
     where ${inCircle} group by d.goal_id`,
    { schoolId, personId: actor.personId, goalIds: [...goalIds] },
  );
  return new Map(rows.map(({ goal_id, days }) => [goal_id, days]));
}

/** A person is asked to take data of a goal on a day. */
export interface DataAsk {
  askId: string;
  studentId: string;
  goalId: string;
  on: string;
  personId: string;
  person: string;
  askedBy: string;
}

/** Who is asked for data of the person's students, from one day to another. */
export async function listDataAsks(
  { trx, schoolId }: Scope,
  personId: string,
  { from, to }: { from: string; to: string },
): Promise<DataAsk[]> {
  const { rows } = await trx.raw<{
    rows: {
      ask_id: string;
      student_id: string;
      goal_id: string;
      on: string;
      person_id: string;
      person: string;
      asked_by: string;
    }[];
  }>(
    `select a.ask_id, a.student_id, a.goal_id, a.on_day as on, a.person_id, p.given_name || ' ' || p.family_name as person,
       b.given_name || ' ' || b.family_name as asked_by
     from data_asks a join students st on st.school_id = a.school_id and st.student_id = a.student_id
     join people p on p.school_id = a.school_id and p.person_id = a.person_id
     join people b on b.school_id = a.school_id and b.person_id = a.asked_by
     where a.school_id = :schoolId and a.taken_back_at is null and a.on_day between :from and :to and ${inCircle}
     order by a.on_day, p.given_name, p.family_name`,
    { schoolId, personId, from, to },
  );
  return rows.map((row) => ({
    ...{ askId: row.ask_id, studentId: row.student_id, goalId: row.goal_id, on: row.on },
    ...{ personId: row.person_id, person: row.person, askedBy: row.asked_by },
  }));
}

/** The people who are asked for data on a day. */
export async function listAskedPeople({ trx, schoolId }: Scope, on: string): Promise<string[]> {
  return trx("data_asks")
    .where({ school_id: schoolId, on_day: on })
    .whereNull("taken_back_at")
    .distinct()
    .pluck("person_id");
}

/** A person of a circle who records for its student. */
export interface Recorder {
  personId: string;
  name: string;
  /** Do they lead the circle? */
  leads: boolean;
}

/** Who of a circle may record, for each of the person's students: those that can be asked for data. */
export async function listRecorders({ trx, schoolId, actor }: PersonScope): Promise<Map<string, Recorder[]>> {
  const { rows } = await trx.raw<{
    rows: { student_id: string; people: Recorder[] }[];
  }>(
    `select c.student_id, jsonb_agg(jsonb_build_object('personId', p.person_id, 'name', p.given_name || ' ' || p.family_name, 'leads', c.part = 'lead')
       order by p.given_name, p.family_name) as people
     from circle c join people p on p.school_id = c.school_id and p.person_id = c.person_id and p.left_on is null
     join students st on st.school_id = c.school_id and st.student_id = c.student_id
     where c.school_id = :schoolId and c.part in ('lead', 'record') and in_circle_now(c.from_on, c.to_on) and ${inCircle}
     group by c.student_id`,
    { schoolId, personId: actor.personId },
  );
  return new Map(rows.map(({ student_id, people }) => [student_id, people]));
}

/**
 * Asks a person of the circle to take data of a goal on a day, in place of whoever was asked before.
 *
 * @throws Invalid where the person may not record for this student now
 */
export async function askForData(
  scope: PersonScope,
  { askId, goalId, on, personId }: Pick<DataAsk, "askId" | "goalId" | "on" | "personId">,
): Promise<void> {
  requirePermission(scope, "data.ask");
  const { trx, schoolId, actor, studentId } = scope;
  const goal = await trx("goals")
    .where({ school_id: schoolId, goal_id: goalId, student_id: studentId ?? "" })
    .first("goal_id");
  if (!goal || studentId === null) notFound();
  const there = (await listRecorders(scope)).get(studentId)?.some((one) => one.personId === personId);
  if (!there) throw new Invalid({ personId: "This person does not record for this student now." });
  const isThere = await trx("data_asks").where({ school_id: schoolId, ask_id: askId }).first("ask_id");
  if (isThere) return;
  await takeBackAsk(scope, { goalId, on });
  const added = await trx("data_asks")
    .insert({
      ...{ school_id: schoolId, ask_id: askId, student_id: studentId, goal_id: goalId, on_day: on },
      ...{ person_id: personId, asked_by: actor.personId },
    })
    // Two who ask at once: the first one is asked.
    .onConflict()
    .ignore()
    .returning("ask_id");
  if (added.length > 0)
    await recordEvent(scope, { thing: "data ask", act: "made", thingId: goalId, studentId, on });
}

/** Nobody is asked for data of this goal on this day any more. */
export async function takeBackAsk(
  scope: PersonScope,
  { goalId, on }: Pick<DataAsk, "goalId" | "on">,
): Promise<void> {
  requirePermission(scope, "data.ask");
  const { trx, schoolId, studentId } = scope;
  const changed = await trx("data_asks")
    .where({ school_id: schoolId, goal_id: goalId, student_id: studentId ?? "", on_day: on })
    .whereNull("taken_back_at")
    .update({ taken_back_at: scope.now });
  if (changed > 0)
    await recordEvent(scope, { thing: "data ask", act: "taken back", thingId: goalId, studentId, on });
}
