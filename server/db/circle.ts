import { groupBy } from "#core/lists/group-by.ts";
import { dateOfDay, dayNumber } from "#core/dates/day-number.ts";
import { shortName } from "#core/model/student-names.ts";
import type { CircleRole } from "../access/actor.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import { recordEvents } from "./events.ts";
import { inCircle, listStudents } from "./students.ts";

/** A person's part in a student's circle. Days are the school's own; `toOn` is the last day, null without an end. */
export interface CircleMember {
  personId: string;
  name: string;
  position: string;
  circleRole: CircleRole;
  fromOn: string;
  toOn: string | null;
  state: "now" | "to come" | "ended";
  /** When they last had the report open, in the school's own day and time; null where they never had. */
  seen: { on: string; time: string } | null;
}

/** Everyone who is, will be or was in a student's circle: those of now first, the leads before others. */
export async function listCircleMembers(
  { trx, schoolId, timeZone, today }: Scope,
  studentId: string,
): Promise<CircleMember[]> {
  const { rows } = await trx.raw<{
    rows: {
      person_id: string;
      given_name: string;
      family_name: string;
      position: string;
      part: CircleRole;
      from_on: string;
      to_on: string | null;
      left_on: string | null;
      seen_on: string | null;
      seen_time: string | null;
    }[];
  }>(
    `select p.person_id, p.given_name, p.family_name, p.position, p.left_on, c.part, c.from_on, c.to_on,
       (v.seen_at at time zone :timeZone)::date as seen_on, to_char(v.seen_at at time zone :timeZone, 'HH24:MI') as seen_time
     from circle c join people p on p.school_id = c.school_id and p.person_id = c.person_id
     left join report_views v on v.school_id = c.school_id and v.student_id = c.student_id and v.person_id = c.person_id
     where c.school_id = :schoolId and c.student_id = :studentId
     order by case c.part when 'lead' then 0 when 'record' then 1 else 2 end, p.given_name, p.family_name, p.person_id`,
    { schoolId, studentId, timeZone },
  );
  const stateOf = (row: (typeof rows)[number]): CircleMember["state"] => {
    const end = [row.to_on, row.left_on].flatMap((on) => on ?? []).sort()[0];
    return end !== undefined && end < today ? "ended" : row.from_on > today ? "to come" : "now";
  };
  const rank = { now: 0, "to come": 1, ended: 2 };
  return rows
    .map((row): CircleMember => ({
      ...{ personId: row.person_id, name: `${row.given_name} ${row.family_name}`, position: row.position },
      ...{ circleRole: row.part, fromOn: row.from_on, toOn: row.to_on, state: stateOf(row) },
      seen: row.seen_on === null ? null : { on: row.seen_on, time: row.seen_time ?? "" },
    }))
    .sort((a, b) => rank[a.state] - rank[b.state]);
}

/** A member of staff who works at the school now. */
export interface WorkingPerson {
  personId: string;
  name: string;
  position: string;
}

/** Everyone who works at the school now, by name. */
export async function listWorking({ trx, schoolId, today }: Scope): Promise<WorkingPerson[]> {
  const { rows } = await trx.raw<{
    rows: { person_id: string; given_name: string; family_name: string; position: string }[];
  }>(
    `select person_id, given_name, family_name, position from people
     where school_id = ? and (left_on is null or left_on >= ?) order by given_name, family_name, person_id`,
    [schoolId, today],
  );
  return rows.map((row) => ({
    personId: row.person_id,
    name: `${row.given_name} ${row.family_name}`,
    position: row.position,
  }));
}

/** Does a person lead the circle of a student now? For work that goes on after they asked for it. */
export async function leadsNow(
  { trx, schoolId }: Scope,
  personId: string,
  studentId: string,
): Promise<boolean> {
  const { rows } = await trx.raw<{ rows: unknown[] }>(
    `select 1 from circle c where c.school_id = ? and c.student_id = ? and c.person_id = ? and c.part = 'lead'
       and in_circle_now(c.from_on, c.to_on)`,
    [schoolId, studentId, personId],
  );
  return rows.length > 0;
}

/** Colleagues who work with students of the person now, with the ids of these students. */
export async function listCirclesWith({ trx, schoolId, actor }: PersonScope): Promise<Map<string, string[]>> {
  const { rows } = await trx.raw<{ rows: { person_id: string; students: string[] }[] }>(
    `select c.person_id, jsonb_agg(c.student_id) as students from circle c
     where c.school_id = :schoolId and c.person_id <> :personId and in_circle_now(c.from_on, c.to_on)
       and exists (select 1 from circle o where o.school_id = c.school_id and o.student_id = c.student_id and o.person_id = :personId
         and in_circle_now(o.from_on, o.to_on))
     group by c.person_id`,
    { schoolId, personId: actor.personId },
  );
  return new Map(rows.map(({ person_id, students }) => [person_id, students]));
}

/** A person in a circle beside the one who asks. */
export interface CircleColleague {
  personId: string;
  name: string;
  position: string;
}

/** Who else is in the circle of each of the person's students now, the leads first. */
export async function listColleaguesOf({
  trx,
  schoolId,
  actor,
}: PersonScope): Promise<Map<string, CircleColleague[]>> {
  const { rows } = await trx.raw<{ rows: { student_id: string; people: CircleColleague[] }[] }>(
    `select c.student_id, jsonb_agg(jsonb_build_object('personId', p.person_id, 'name', p.given_name || ' ' || p.family_name,
       'position', p.position) order by c.part <> 'lead', p.given_name, p.family_name) as people
     from circle c join people p on p.school_id = c.school_id and p.person_id = c.person_id and p.left_on is null
     join students st on st.school_id = c.school_id and st.student_id = c.student_id
     where c.school_id = :schoolId and c.person_id <> :personId and in_circle_now(c.from_on, c.to_on) and ${inCircle}
     group by c.student_id`,
    { schoolId, personId: actor.personId },
  );
  return new Map(rows.map(({ student_id, people }) => [student_id, people]));
}

/** A part as it is given: from a day on, to a last day or without an end. */
export interface GivenPart {
  circleRole: CircleRole;
  fromOn: string;
  toOn: string | null;
}

/** People who change one circle take turns, so that two cannot end both of two leads. */
async function lockCircle({ trx, schoolId }: Scope, studentIds: readonly string[]): Promise<void> {
  await trx.raw(
    "select 1 from students where school_id = ? and student_id = any(?) order by student_id for update",
    [schoolId, [...studentIds]],
  );
}

/** Has each student a lead who works at the school, now and without an end? Those who have none. */
async function withoutLead({ trx, schoolId }: Scope, studentIds: readonly string[]): Promise<string[]> {
  const { rows } = await trx.raw<{ rows: { id: string }[] }>(
    `select id from unnest(:studentIds::uuid[]) as id where not exists (
       select 1 from circle c join people p on p.school_id = c.school_id and p.person_id = c.person_id
       where c.school_id = :schoolId and c.student_id = id and c.part = 'lead' and c.to_on is null
         and in_circle_now(c.from_on, null) and p.left_on is null)`,
    { schoolId, studentIds: [...studentIds] },
  );
  return rows.map(({ id }) => id);
}

/** What stands in the way of a change of a circle: nothing is changed then. */
export type CircleOutcome = "saved" | "needs a lead" | "not of the school" | "not theirs to change";

/** Runs a change of circles; where a student would be left without a lead it is taken back. */
async function changing(
  scope: PersonScope,
  studentIds: readonly string[],
  change: () => Promise<void>,
): Promise<CircleOutcome> {
  await lockCircle(scope, studentIds);
  const lacked = new Set(await withoutLead(scope, studentIds));
  await scope.trx.raw("savepoint circle");
  await change();
  // A student who had none before is not made worse.
  const lacks = (await withoutLead(scope, studentIds)).some((id) => !lacked.has(id));
  await scope.trx.raw(lacks ? "rollback to savepoint circle" : "release savepoint circle");
  return lacks ? "needs a lead" : "saved";
}

/**
 * Brings people into the circles of students, or changes the part of those who are there. Nothing is changed where the person may not
 * change one of these circles.
 */
export async function addToCircles(
  scope: PersonScope,
  studentIds: readonly string[],
  personIds: readonly string[],
  { circleRole, fromOn, toOn }: GivenPart,
): Promise<CircleOutcome> {
  const { trx, schoolId } = scope;
  const own = new Set((await listCircles(scope)).map(({ studentId }) => studentId));
  if (!studentIds.every((studentId) => own.has(studentId))) return "not theirs to change";
  const working = new Set((await listWorking(scope)).map(({ personId }) => personId));
  if (!personIds.every((personId) => working.has(personId))) return "not of the school";
  const there = new Set(
    (
      await trx<{ school_id: string; student_id: string; person_id: string }>("circle")
        .where({ school_id: schoolId })
        .whereIn("student_id", studentIds)
        .select("student_id", "person_id")
    ).map(({ student_id, person_id }) => `${student_id} ${person_id}`),
  );
  return changing(scope, studentIds, async () => {
    const rows = studentIds.flatMap((student_id) =>
      personIds.map((person_id) => ({
        ...{ school_id: schoolId, student_id, person_id, part: circleRole, from_on: fromOn, to_on: toOn },
      })),
    );
    await trx("circle")
      .insert(rows)
      .onConflict(["school_id", "student_id", "person_id"])
      .merge(["part", "from_on", "to_on"]);
    await recordEvents(
      scope,
      rows.map(({ student_id, person_id }) => ({
        ...{ thing: "circle" as const, thingId: person_id, studentId: student_id },
        act: there.has(`${student_id} ${person_id}`) ? ("changed" as const) : ("added" as const),
      })),
    );
  });
}

/** Sets yesterday as the last day of a part, which ends it in this moment. */
async function endNow({ trx, schoolId, today }: Scope, studentId: string, personId: string): Promise<void> {
  await trx.raw(
    `update circle set from_on = least(from_on, :yesterday::date), to_on = :yesterday
     where school_id = :schoolId and student_id = :studentId and person_id = :personId`,
    { schoolId, studentId, personId, yesterday: dateOfDay(dayNumber(today) - 1) },
  );
}

async function requireMember({ trx, schoolId }: Scope, studentId: string, personId: string): Promise<void> {
  const there = await trx("circle")
    .where({ school_id: schoolId, student_id: studentId, person_id: personId })
    .first();
  if (!there) notFound();
}

/**
 * Changes what a person may do in a student's circle, and until when.
 *
 * @throws NotFound where they are not in it
 */
export async function changePart(
  scope: PersonScope,
  studentId: string,
  personId: string,
  { circleRole, toOn }: Pick<GivenPart, "circleRole" | "toOn">,
): Promise<CircleOutcome> {
  requirePermission(scope, "circle.edit");
  await requireMember(scope, studentId, personId);
  return changing(scope, [studentId], async () => {
    await scope
      .trx("circle")
      .where({ school_id: scope.schoolId, student_id: studentId, person_id: personId })
      .update({ part: circleRole, to_on: toOn });
    await recordEvents(scope, [{ thing: "circle", act: "changed", thingId: personId, studentId }]);
  });
}

/**
 * Ends a person's part at once: from this moment on no page, stream or device of theirs gets anything of the student.
 *
 * @throws NotFound where they are not in the circle
 */
export async function endPart(
  scope: PersonScope,
  studentId: string,
  personId: string,
): Promise<CircleOutcome> {
  requirePermission(scope, "circle.edit");
  await requireMember(scope, studentId, personId);
  return changing(scope, [studentId], async () => {
    await endNow(scope, studentId, personId);
    await recordEvents(scope, [{ thing: "circle", act: "ended", thingId: personId, studentId }]);
  });
}

/** What waits for a person in one student's record. */
export interface OpenWork {
  /** Goals that they usually measure, "2b Two-digit subtraction". */
  measures: string[];
  /** Goals whose progress statements they write. */
  writes: string[];
  /** Sittings with the student that they left open. */
  openSittings: number;
}

/** What waits for a person in a student's record, its goals by name for who reads the record and else counted: to be looked at before their part ends. */
export async function readOpenWork(
  { trx, schoolId }: Scope,
  studentId: string,
): Promise<Map<string, OpenWork>> {
  const { rows } = await trx.raw<{
    rows: { kind: "measures" | "writes" | "sitting"; person_id: string; title: string | null }[];
  }>(
    `select w.kind, w.person_id, g.number || ' ' || g.title as title, g.position
     from gate.open_work(:studentId) w left join goals g on g.school_id = :schoolId and g.goal_id = w.goal_id
     union all
     select 'sitting', o.person_id, null, 0 from open_sittings o
     where o.school_id = :schoolId and o.goals @> jsonb_build_array(jsonb_build_object('studentId', :studentId::text))
     order by position`,
    { schoolId, studentId },
  );
  const work = new Map<string, OpenWork>();
  for (const [personId, theirs] of groupBy(rows, ({ person_id }) => person_id)) {
    const goals = (wanted: "measures" | "writes") => {
      const titles = theirs.flatMap(({ kind, title }) => (kind === wanted ? [title] : []));
      const hidden = titles.filter((title) => title === null).length;
      const unnamed = hidden === 0 ? [] : [hidden === 1 ? "one goal" : `${hidden} goals`];
      return [...titles.flatMap((title) => title ?? []), ...unnamed];
    };
    work.set(personId, {
      ...{ measures: goals("measures"), writes: goals("writes") },
      openSittings: theirs.filter(({ kind }) => kind === "sitting").length,
    });
  }
  return work;
}

/**
 * Hands a person's part over to another: the other has it from today on, without an end, and writes their progress statements; the
 * first one's part ends at once.
 */
export async function handOverPart(
  scope: PersonScope,
  studentId: string,
  { personId, toPersonId }: { personId: string; toPersonId: string },
): Promise<CircleOutcome> {
  requirePermission(scope, "circle.edit");
  const { trx, schoolId, today } = scope;
  const member = (await listCircleMembers(scope, studentId)).find((one) => one.personId === personId);
  if (!member || personId === toPersonId) notFound();
  const working = await listWorking(scope);
  if (!working.some((one) => one.personId === toPersonId)) return "not of the school";
  return changing(scope, [studentId], async () => {
    const key = { school_id: schoolId, student_id: studentId };
    await trx("circle")
      .insert({ ...key, person_id: toPersonId, part: member.circleRole, from_on: today, to_on: null })
      .onConflict(["school_id", "student_id", "person_id"])
      .merge(["part", "from_on", "to_on"]);
    await endNow(scope, studentId, personId);
    await trx("statement_writers")
      .where({ ...key, person_id: personId })
      .update({ person_id: toPersonId });
    await recordEvents(scope, [
      { thing: "circle", act: "handed over", thingId: toPersonId, studentId },
      { thing: "circle", act: "ended", thingId: personId, studentId },
    ]);
  });
}

/** A change of a student's circle as its history shows it. */
export interface CircleChange {
  act: "added" | "changed" | "ended" | "handed over" | "muted" | "unmuted";
  person: string;
  by: string | null;
  on: string;
  time: string;
}

/** What changed in a student's circle, the latest first. */
export async function listCircleChanges(
  { trx, schoolId, timeZone }: Scope,
  studentId: string,
): Promise<CircleChange[]> {
  const { rows } = await trx.raw<{
    rows: {
      act: CircleChange["act"];
      on: string;
      time: string;
      given: string;
      family: string;
      by_given: string | null;
      by_family: string | null;
    }[];
  }>(
    `select a.act, (a.at at time zone :timeZone)::date as on, to_char(a.at at time zone :timeZone, 'HH24:MI') as time,
       p.given_name as given, p.family_name as family, b.given_name as by_given, b.family_name as by_family
     from audit a join people p on p.school_id = a.school_id and p.person_id = a.thing_id
     left join people b on b.school_id = a.school_id and b.person_id = a.person_id
     where a.school_id = :schoolId and a.student_id = :studentId and a.thing = 'circle'
     order by a.at desc, a.audit_id desc limit 200`,
    { schoolId, studentId, timeZone },
  );
  return rows.map((row) => ({
    ...{ act: row.act, on: row.on, time: row.time, person: `${row.given} ${row.family}` },
    by: row.by_given === null ? null : shortName(row.by_given, row.by_family ?? ""),
  }));
}

/** A student of whom the person may change the circle, with those who are in it now. */
export interface CircleOfStudent {
  studentId: string;
  name: string;
  leads: string[];
  others: number;
}

/** The students whose circles a person may change: those they lead, for an administrator all of the school. */
export async function listCircles(scope: PersonScope): Promise<CircleOfStudent[]> {
  const { trx, schoolId, actor } = scope;
  const isAdministrator = actor.role === "administrator";
  const mine = isAdministrator ? [] : (await listStudents(scope)).map(({ studentId }) => studentId);
  const { rows } = await trx.raw<{
    rows: { student_id: string; name: string; leads: string[]; leader_ids: string[]; others: number }[];
  }>(
    `select st.student_id, st.given_name || ' ' || st.family_name as name,
       coalesce(array_agg(p.given_name || ' ' || p.family_name order by p.given_name) filter (where c.part = 'lead'), '{}') as leads,
       coalesce(array_agg(p.person_id::text) filter (where c.part = 'lead'), '{}') as leader_ids,
       count(p.person_id) filter (where c.part <> 'lead')::int as others
     from students st
     left join circle c on c.school_id = st.school_id and c.student_id = st.student_id and in_circle_now(c.from_on, c.to_on)
     left join people p on p.school_id = c.school_id and p.person_id = c.person_id and p.left_on is null
     where st.school_id = :schoolId and st.left_on is null and (:all or st.student_id = any(:mine))
     group by st.school_id, st.student_id, st.given_name, st.family_name
     order by st.given_name, st.family_name, st.student_id`,
    { schoolId, all: isAdministrator, mine },
  );
  return rows
    .filter(({ leader_ids }) => isAdministrator || leader_ids.includes(actor.personId))
    .map(({ student_id, name, leads, others }) => ({
      studentId: student_id,
      name: name.trim(),
      leads,
      others,
    }));
}

/** Notes that the person has the student's report open: at most once in ten minutes. */
export async function noteReportView(
  { trx, schoolId, actor }: PersonScope,
  studentId: string,
): Promise<void> {
  await trx.raw(
    `insert into report_views (school_id, student_id, person_id) values (?, ?, ?)
     on conflict (school_id, student_id, person_id) do update set seen_at = clock_now()
       where report_views.seen_at < clock_now() - interval '10 minutes'`,
    [schoolId, studentId, actor.personId],
  );
}
