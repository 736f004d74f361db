import { accessRecordDays, type EventWay } from "#core/words/event-acts.ts";
import { initialsOf } from "#core/model/student-names.ts";
import { localMoment } from "#core/dates/school-time.ts";
import type { CircleRole, LinkActor } from "../access/actor.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { recordEvent } from "./events.ts";

/** What a row of the settings, a person or a student held, by column: before and after. */
export interface RowChange {
  table: string;
  /** Null once the student's record is erased. */
  changes: Record<string, unknown> | null;
}

/** Something that happened, with who and why. Moments are the school's own, `YYYY-MM-DDTHH:MM:SS`. */
export interface EventLine {
  /** For the next page of a list. */
  place: string;
  at: string;
  actor: { kind: "person" | "job" | "link" | "student"; name: string; position: string | null };
  act: string;
  thing: string;
  thingId: string | null;
  way: EventWay | null;
  circleRole: CircleRole | null;
  /** The permission that was refused, or the command. */
  what: string | null;
  /** The person or guardian it is about. */
  about: string | null;
  /** Who received something, or asked for it, in the words of who noted it. */
  recipient: string | null;
  reason: string | null;
  student: { studentId: string; initials: string } | null;
  /** Did it go to, or come from, somebody outside the school's staff? */
  isOutside: boolean;
  changes: RowChange[];
}

interface EventRow {
  audit_id: string;
  at: Date;
  actor_kind: EventLine["actor"]["kind"];
  actor_name: string | null;
  position: string | null;
  job: string | null;
  act: string;
  thing: string;
  thing_id: string | null;
  way: EventWay | null;
  circle_role: CircleRole | null;
  what: string | null;
  about: string | null;
  recipient: string | null;
  reason: string | null;
  student_id: string | null;
  initials: string | null;
  given: string | null;
  family: string | null;
  is_outside: boolean;
  changes: RowChange[] | null;
}

/** What of an event is asked of its own tables: who it is about, who received something and why. */
const joined = `left join people p on p.school_id = a.school_id and p.person_id = a.person_id
  left join guardians ag on ag.school_id = a.school_id and ag.guardian_id = a.actor_id
  left join people ap on ap.school_id = a.school_id and ap.person_id = a.thing_id and a.thing in ('person', 'circle', 'pin')
  left join guardians g on g.school_id = a.school_id and g.guardian_id = a.thing_id and a.thing = 'guardian'
  left join disclosures d on d.school_id = a.school_id and d.disclosure_id = a.thing_id and a.thing = 'disclosure'
  left join outside_requests o on o.school_id = a.school_id and o.request_id = a.thing_id and a.thing = 'outside request'
  left join messages m on m.school_id = a.school_id and m.message_id = a.thing_id and a.thing = 'message'
  left join guardians mg on mg.school_id = m.school_id and mg.guardian_id = m.guardian_id
  left join people mp on mp.school_id = m.school_id and mp.person_id = m.person_id
  left join editions e on e.school_id = a.school_id and e.edition_id = a.thing_id and a.thing = 'edition'
  left join lateral (select s.how, s.note from edition_shares s where s.school_id = a.school_id and s.edition_id = a.thing_id
    and a.thing = 'edition' and a.act = 'shared' and s.at = a.at limit 1) es on true`;

/** Did it go to, or come from, somebody outside the school's staff? 34 CFR 99.32 asks for these. */
const isOutside = `(a.actor_kind = 'link' or (a.thing = 'disclosure' and coalesce(d.audience, '') <> 'team') or (a.thing = 'edition' and a.act = 'shared' and e.audience <> 'team')
  or a.thing in ('release', 'outside request', 'rights request') or (a.thing = 'message' and m.guardian_id is not null))`;

/** The kinds of events, each as a condition. Every event is of exactly one. */
const kinds = {
  saw: "a.act = 'read' or (a.thing, a.act) in (('message', 'opened'), ('guardian', 'opened'))",
  took: "a.act in ('exported', 'printed') or a.thing in ('disclosure', 'packet')",
  received: `(a.thing, a.act) in (('message', 'sent'), ('message', 'sent again'), ('edition', 'shared'), ('release', 'made'), ('feedback', 'sent'))
    or a.thing = 'outside request'`,
  "signed in":
    "a.act in ('signed in', 'session ended', 'sign-in failed') or a.thing = 'pin' or (a.thing = 'person' and a.act like 'signed out%')",
  refused: "(a.thing, a.act) = ('permission', 'refused')",
  command: "a.thing = 'command'",
  people: "a.thing in ('person', 'circle', 'guardian', 'rights', 'device') and a.act <> 'read'",
  settings: "a.student_id is null",
  record: "true",
} as const;
/** What an event is, for a list that shows some of them. */
export type EventKind = keyof typeof kinds;

const kindCase = `case ${(Object.keys(kinds) as EventKind[]).map((kind) => `when ${kinds[kind]} then '${kind}'`).join(" ")} end`;

/** Which events are wanted. Days are the school's own. */
export interface EventFilter {
  studentId?: string;
  personId?: string;
  kind?: EventKind;
  /** Without what was only looked at. */
  notSaw?: boolean;
  outside?: boolean;
  from?: string;
  to?: string;
  /** Those before this place. */
  before?: string;
}

/** In which tables an event about a student changed rows whose steps are in no history of their own. */
const changedTables = `case a.thing when 'circle' then array['circle', 'circle_mutes'] when 'guardian' then array['guardians']
  when 'student' then array['students', 'group_members'] when 'rights' then array['students', 'guardians']
  when 'absence' then array['absences'] when 'audience' then array['student_audiences'] when 'choices' then array['choices']
  when 'statement' then array['statement_writers'] else '{}' end`;

async function listMatching(
  { trx, schoolId, timeZone }: Scope,
  { studentId, personId, kind, notSaw, outside, from, to, before }: EventFilter,
  limit: number,
  { withChanges, guardianId = null }: { withChanges: boolean; guardianId?: string | null },
): Promise<EventLine[]> {
  const { rows } = await trx.raw<{ rows: EventRow[] }>(
    `select a.audit_id, a.at, a.actor_kind, coalesce(p.given_name || ' ' || p.family_name, ag.name) as actor_name,
       coalesce(p.position, ag.relation) as position, a.job, a.act, a.thing, a.thing_id, a.way, a.circle_role, a.what,
       coalesce(ap.given_name || ' ' || ap.family_name, g.name) as about,
       coalesce(d.recipient, o.by_whom, mg.name, mp.given_name || ' ' || mp.family_name, es.note) as recipient,
       coalesce(d.reason, o.what || ': ' || o.interest, es.how) as reason,
       a.student_id, st.initials, coalesce(st.preferred_name, st.given_name) as given, st.family_name as family,
       ${isOutside} as is_outside,
       case when :withChanges then (select jsonb_agg(jsonb_build_object('table', c.of_table, 'changes', c.changes) order by c.change_id)
         from audit_changes c where c.school_id = a.school_id and c.tx = a.tx and c.student_id is not distinct from a.student_id
           and (a.student_id is null or c.of_table = any(${changedTables}))
           and (a.thing not in ('person', 'circle', 'guardian') or a.thing_id is null or c.ids @> jsonb_build_object(
             case a.thing when 'guardian' then 'guardian_id' else 'person_id' end, a.thing_id))) end as changes
     from audit a ${joined}
     left join students st on st.school_id = a.school_id and st.student_id = a.student_id
     where a.school_id = :schoolId
       and (:studentId::uuid is null or a.student_id = :studentId)
       and (:personId::uuid is null or a.person_id = :personId)
       and (:guardianId::uuid is null or (coalesce(a.actor_id, :guardianId) = :guardianId
         and (a.thing <> 'guardian' or a.thing_id = :guardianId) and coalesce(m.guardian_id, :guardianId) = :guardianId))
       and (:before::bigint is null or a.audit_id < :before)
       and (:from::date is null or a.at >= :from::date::timestamp at time zone :timeZone)
       and (:to::date is null or a.at < (:to::date + 1)::timestamp at time zone :timeZone)
       and (:kind::text is null or ${kindCase} = :kind)
       and (not :notSaw or ${kindCase} <> 'saw')
       and (:outside::boolean is null or ${isOutside} = :outside)
     order by a.audit_id desc limit :limit`,
    {
      ...{ schoolId, timeZone, limit, withChanges, guardianId },
      ...{
        studentId: studentId ?? null,
        personId: personId ?? null,
        kind: kind ?? null,
        notSaw: notSaw ?? false,
      },
      ...{ outside: outside ?? null, from: from ?? null, to: to ?? null, before: before ?? null },
    },
  );
  return rows.map((row) => ({
    ...{ place: row.audit_id, at: localMoment(timeZone, row.at.getTime()) },
    actor: { kind: row.actor_kind, name: row.actor_name ?? row.job ?? "", position: row.position },
    ...{ act: row.act, thing: row.thing, thingId: row.thing_id, way: row.way, circleRole: row.circle_role },
    ...{ what: row.what, about: row.about, recipient: row.recipient, reason: row.reason },
    student:
      row.student_id === null
        ? null
        : {
            studentId: row.student_id,
            initials: row.initials ?? initialsOf(row.given ?? "", row.family ?? ""),
          },
    isOutside: row.is_outside,
    changes: row.changes ?? [],
  }));
}

/**
 * The access record of a student, the newest first: who saw, saved, printed, received or changed what, when, by which way and why. 34 CFR
 * 99.32 asks a school for its disclosures and requests outside its own staff, 34 CFR 300.614 for all who obtained access.
 */
export async function listAccess(
  scope: PersonScope,
  studentId: string,
  filter: Omit<EventFilter, "studentId">,
  limit: number,
): Promise<EventLine[]> {
  requirePermission(scope, "access-record.read");
  return listMatching(scope, { ...filter, studentId }, limit, { withChanges: true });
}

/**
 * The same for a guardian who asked for it and was let; null where they are not, or no longer. Without what changed, and without what other
 * guardians did or were sent: a parent's own access is no part of the record that 34 CFR 99.32 asks for.
 */
export async function listAccessForFamily(
  scope: Scope<LinkActor>,
  filter: Omit<EventFilter, "studentId">,
  limit: number,
): Promise<EventLine[] | null> {
  requirePermission(scope, "access-record.family");
  const { trx, schoolId, actor, today } = scope;
  const row = await trx("guardians")
    .where({ school_id: schoolId, guardian_id: actor.linkId })
    .where("reads_access_until", ">=", today)
    .first("guardian_id");
  return row
    ? listMatching(scope, { ...filter, studentId: actor.studentId }, limit, {
        withChanges: false,
        guardianId: actor.linkId,
      })
    : null;
}

/** The events of the school, the newest first, with what was before and after. What is in a student's record is not among it. */
export async function listSchoolEvents(
  scope: PersonScope,
  filter: EventFilter,
  limit: number,
): Promise<EventLine[]> {
  requirePermission(scope, "events.read");
  return listMatching(scope, filter, limit, { withChanges: true });
}

/** The guardians of a student, and until when each reads the access record: null where they do not. */
export async function listAccessReaders(
  { trx, schoolId, today }: PersonScope,
  studentId: string,
): Promise<{ guardianId: string; name: string; relation: string; until: string | null }[]> {
  const rows = await trx("guardians")
    .where({ school_id: schoolId, student_id: studentId })
    .whereNull("removed_at")
    .whereNull("no_access_reason")
    .orderBy("name")
    .select("guardian_id", "name", "relation", "reads_access_until");
  return rows.map((row) => ({
    ...{ guardianId: row.guardian_id, name: row.name, relation: row.relation },
    until: row.reads_access_until !== null && row.reads_access_until >= today ? row.reads_access_until : null,
  }));
}

/** Lets a guardian read who saw the record, or ends it. */
export async function letReadAccess(
  scope: PersonScope,
  studentId: string,
  { guardianId, reads }: { guardianId: string; reads: boolean },
): Promise<boolean> {
  requirePermission(scope, "family.edit");
  const { trx, schoolId, today } = scope;
  const changed = await trx("guardians")
    .where({ school_id: schoolId, student_id: studentId, guardian_id: guardianId })
    .whereNull("removed_at")
    .update({ reads_access_until: reads ? trx.raw("?::date + ?::int", [today, accessRecordDays]) : null });
  if (changed === 0) return false;
  const act = reads ? "access record opened" : "access record closed";
  await recordEvent(scope, { thing: "guardian", act, thingId: guardianId, studentId });
  return true;
}

/** A request from outside the school's staff, or what was given to somebody by another way than this application. */
export interface OutsideRequest {
  requestId: string;
  studentId: string;
  kind: "given" | "refused";
  requestedOn: string;
  byWhom: string;
  what: string;
  interest: string;
}

/** Writes such a request down. The form made its id: sent twice, it is one. */
export async function noteOutsideRequest(
  scope: PersonScope,
  { requestId, studentId, kind, requestedOn, byWhom, what, interest }: OutsideRequest,
): Promise<void> {
  requirePermission(scope, "access-record.read");
  const { trx, schoolId, actor } = scope;
  const added = await trx("outside_requests")
    .insert({
      ...{ school_id: schoolId, request_id: requestId, student_id: studentId, person_id: actor.personId },
      ...{ kind, requested_on: requestedOn, by_whom: byWhom, what, interest },
    })
    .onConflict(["school_id", "request_id"])
    .ignore()
    .returning("request_id");
  if (added.length > 0)
    await recordEvent(scope, {
      ...{ thing: "outside request", act: kind, thingId: requestId, studentId, on: requestedOn },
    });
}
