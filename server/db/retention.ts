import { dateOfDay, dayNumber } from "#core/dates/day-number.ts";
import { localMoment } from "#core/dates/school-time.ts";
import { againstErasing, type AgainstErasing, daysToCancel } from "#core/retention/against-erasing.ts";
import { keptUntil } from "#core/retention/kept-until.ts";
import type { RecordKind, RetentionRules } from "#core/retention/record-kinds.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { Invalid, notFound } from "../errors.ts";
import { recordEvent } from "./events.ts";
import { leads } from "./students.ts";

/** What the school has set, by kind of record. */
export async function readRetention({ trx, schoolId }: Scope): Promise<RetentionRules> {
  const rows = await trx("retention").where({ school_id: schoolId }).select("kind", "years", "source");
  return Object.fromEntries(rows.map(({ kind, years, source }) => [kind, { years, source }]));
}

/** Sets for how many years each kind is kept. A kind that is left out has no rule from then on. */
export async function saveRetention(scope: PersonScope, rules: RetentionRules): Promise<void> {
  requirePermission(scope, "retention.edit");
  const { trx, schoolId } = scope;
  const rows = Object.entries(rules).map(([kind, { years, source }]) => ({
    ...{ school_id: schoolId, kind: kind as RecordKind, years, source },
  }));
  await trx("retention")
    .where({ school_id: schoolId })
    .whereNotIn(
      "kind",
      rows.map(({ kind }) => kind),
    )
    .delete();
  if (rows.length > 0)
    await trx("retention").insert(rows).onConflict(["school_id", "kind"]).merge(["years", "source"]);
  await recordEvent(scope, { thing: "retention", act: "changed", thingId: null, studentId: null });
}

/** A hold on a student's record. Moments are the school's own. */
export interface RecordHold {
  holdId: string;
  reason: string;
  by: string;
  at: string;
  ended: { at: string; by: string } | null;
}

/** The holds on a student's record, those that are on first. */
export async function listHolds(
  { trx, schoolId, timeZone }: Scope,
  studentId: string,
): Promise<RecordHold[]> {
  const { rows } = await trx.raw<{
    rows: {
      hold_id: string;
      reason: string;
      by: string;
      made_at: Date;
      ended_at: Date | null;
      ended_by: string | null;
    }[];
  }>(
    `select h.hold_id, h.reason, p.given_name || ' ' || p.family_name as by, h.made_at, h.ended_at,
       e.given_name || ' ' || e.family_name as ended_by
     from record_holds h join people p on p.school_id = h.school_id and p.person_id = h.person_id
     left join people e on e.school_id = h.school_id and e.person_id = h.ended_by
     where h.school_id = ? and h.student_id = ? order by h.ended_at is not null, h.made_at desc`,
    [schoolId, studentId],
  );
  const moment = (at: Date) => localMoment(timeZone, at.getTime());
  return rows.map((row) => ({
    ...{ holdId: row.hold_id, reason: row.reason, by: row.by, at: moment(row.made_at) },
    ended: row.ended_at === null ? null : { at: moment(row.ended_at), by: row.ended_by ?? "" },
  }));
}

/** Holds a student's record: nothing of it is erased until the hold ends. The form made its id: sent twice, it is one. */
export async function setHold(
  scope: PersonScope,
  studentId: string,
  { holdId, reason }: Pick<RecordHold, "holdId" | "reason">,
): Promise<void> {
  requirePermission(scope, "rights.edit");
  const { trx, schoolId, actor } = scope;
  const added = await trx("record_holds")
    .insert({
      school_id: schoolId,
      hold_id: holdId,
      student_id: studentId,
      reason,
      person_id: actor.personId,
    })
    .onConflict(["school_id", "hold_id"])
    .ignore()
    .returning("hold_id");
  if (added.length > 0) await recordEvent(scope, { thing: "hold", act: "set", thingId: holdId, studentId });
}

/**
 * Ends a hold.
 *
 * @throws NotFound
 */
export async function endHold(scope: PersonScope, studentId: string, holdId: string): Promise<void> {
  requirePermission(scope, "rights.edit");
  const { trx, schoolId, actor, now } = scope;
  const changed = await trx("record_holds")
    .where({ school_id: schoolId, student_id: studentId, hold_id: holdId })
    .whereNull("ended_at")
    .update({ ended_at: now, ended_by: actor.personId });
  if (changed === 0) notFound();
  await recordEvent(scope, { thing: "hold", act: "ended", thingId: holdId, studentId });
}

/** How the parents were told that a record is needed no longer, or will be erased: 34 CFR 300.624(a). */
export const toldHow = ["letter", "e-mail", "in person", "by phone"] as const;

/** What is, or was, to be erased of a student's record. Days and moments are the school's own. */
export interface Erasure {
  erasureId: string;
  studentId: string;
  kinds: RecordKind[];
  keepsName: boolean;
  why: "years are over" | "parents asked";
  toldOn: string;
  toldHow: (typeof toldHow)[number];
  toldWhom: string;
  plannedOn: string;
  by: string;
  state: "planned" | "cancelled" | "done";
  /** The day it was done. */
  doneOn: string | null;
}

interface ErasureRow {
  erasure_id: string;
  student_id: string;
  kinds: RecordKind[];
  keeps_name: boolean;
  why: Erasure["why"];
  told_on: string;
  told_how: Erasure["toldHow"];
  told_whom: string;
  planned_on: string;
  by: string;
  cancelled_at: Date | null;
  done_on: string | null;
}

/**
 * What was planned, cancelled and done about students, the latest first. The database shows a person those of their circles, and an administrator all.
 *
 * @param studentId of one student alone
 */
export async function listErasures(
  { trx, schoolId, timeZone }: Scope,
  studentId: string | null = null,
): Promise<Erasure[]> {
  const { rows } = await trx.raw<{ rows: ErasureRow[] }>(
    `select e.erasure_id, e.student_id, e.kinds, e.keeps_name, e.why, e.told_on, e.told_how, e.told_whom, e.planned_on,
       p.given_name || ' ' || p.family_name as by, e.cancelled_at, (e.done_at at time zone :timeZone)::date as done_on
     from erasures e join people p on p.school_id = e.school_id and p.person_id = e.person_id
     where e.school_id = :schoolId and (:studentId::uuid is null or e.student_id = :studentId)
     order by e.made_at desc limit 500`,
    { schoolId, studentId, timeZone },
  );
  return rows.map((row) => ({
    ...{ erasureId: row.erasure_id, studentId: row.student_id, kinds: row.kinds, keepsName: row.keeps_name },
    ...{ why: row.why, toldOn: row.told_on, toldHow: row.told_how, toldWhom: row.told_whom },
    ...{ plannedOn: row.planned_on, by: row.by, doneOn: row.done_on },
    state: row.done_on !== null ? "done" : row.cancelled_at !== null ? "cancelled" : "planned",
  }));
}

/** Whether a student's record can be erased, and since when the school need not keep it. */
export interface ErasingState {
  leftOn: string | null;
  against: AgainstErasing[];
  rules: RetentionRules;
  /** For each kind that has a rule, its last day; empty while the student is at the school. */
  until: Partial<Record<RecordKind, string>>;
}

/** What stands against erasing a student's record today, and until when each kind of it is kept. */
export async function readErasingState(scope: Scope, studentId: string): Promise<ErasingState> {
  const { trx, schoolId, today } = scope;
  const { rows } = await trx.raw<{
    rows: { left_on: string | null; holds: number; requests: number; planned: boolean }[];
  }>(
    `select st.left_on,
       (select count(*)::int from record_holds h where h.school_id = st.school_id and h.student_id = st.student_id and h.ended_at is null) as holds,
       (select count(*)::int from rights_requests r where r.school_id = st.school_id and r.student_id = st.student_id and r.ended_on is null) as requests,
       exists (select 1 from erasures e where e.school_id = st.school_id and e.student_id = st.student_id
         and e.cancelled_at is null and e.done_at is null) as planned
     from students st where st.school_id = ? and st.student_id = ?`,
    [schoolId, studentId],
  );
  const row = rows[0] ?? notFound();
  const { left_on: leftOn, holds, requests, planned } = row;
  const against = againstErasing({ leftOn, holds, openRequests: requests, isPlanned: planned }, today);
  const rules = await readRetention(scope);
  return { leftOn, against, rules, until: leftOn === null ? {} : keptUntil(leftOn, rules) };
}

/** The soonest day on which something that is planned today is erased. */
export const soonestErasing = (today: string): string => dateOfDay(dayNumber(today) + daysToCancel);

/**
 * Plans to erase a student's record, or kinds of it. It is done by the server's own work in the night of that day, and can be cancelled until then.
 * The form made its id: sent twice, it is one.
 *
 * @throws Invalid where something stands against it, or a kind has to be kept longer and no parent asked
 */
export async function planErasure(
  scope: PersonScope,
  erasure: Omit<Erasure, "by" | "state" | "doneOn">,
): Promise<void> {
  requirePermission(scope, "record.erase");
  const { trx, schoolId, actor, today } = scope;
  const { erasureId, studentId, kinds, keepsName, why, toldOn, plannedOn } = erasure;
  if (await trx("erasures").where({ school_id: schoolId, erasure_id: erasureId }).first("erasure_id")) return;
  // Who sets a hold or a date of leaving meanwhile waits.
  await trx.raw("select 1 from students where school_id = ? and student_id = ? for update", [
    schoolId,
    studentId,
  ]);
  const { against, until } = await readErasingState(scope, studentId);
  if (against.length > 0)
    throw new Invalid({ form: "Something stands against it now. Open the page again." });
  const tooSoon = kinds.some((kind) => (until[kind] ?? "9999") >= plannedOn);
  if (why === "years are over" && tooSoon)
    throw new Invalid({
      why: "The school’s rules do not say that all of this may go by then. Choose what may, or another day.",
    });
  if (plannedOn < soonestErasing(today))
    throw new Invalid({
      plannedOn: `At least ${daysToCancel} days from today, so that it can be cancelled.`,
    });
  if (toldOn > today) throw new Invalid({ toldOn: "This day has not come yet." });
  await trx("erasures").insert({
    ...{
      school_id: schoolId,
      erasure_id: erasureId,
      student_id: studentId,
      kinds,
      keeps_name: keepsName,
      why,
    },
    ...{ told_on: toldOn, told_how: erasure.toldHow, told_whom: erasure.toldWhom },
    ...{ planned_on: plannedOn, person_id: actor.personId },
  });
  await recordEvent(scope, {
    thing: "erasure",
    act: "planned",
    thingId: erasureId,
    studentId,
    on: plannedOn,
  });
}

/** Cancels what was planned. */
export async function cancelErasure(scope: PersonScope, studentId: string, erasureId: string): Promise<void> {
  requirePermission(scope, "record.erase");
  const { trx, schoolId, actor, now } = scope;
  const changed = await trx("erasures")
    .where({ school_id: schoolId, student_id: studentId, erasure_id: erasureId })
    .whereNull("cancelled_at")
    .whereNull("done_at")
    .update({ cancelled_at: now, cancelled_by: actor.personId });
  if (changed === 0) notFound();
  await recordEvent(scope, { thing: "erasure", act: "cancelled", thingId: erasureId, studentId });
}

/** A student who left the school, as the list of retention shows them. */
export interface LeftStudent {
  studentId: string;
  name: string;
  leftOn: string;
  holds: number;
  openRequests: number;
}

/** The students who left: for an administrator all, else those whose circle the person leads. Those whose record is erased are left out. */
export async function listLeft({ trx, schoolId, actor }: PersonScope): Promise<LeftStudent[]> {
  const { rows } = await trx.raw<{
    rows: { student_id: string; name: string; left_on: string; holds: number; requests: number }[];
  }>(
    `select st.student_id, trim(st.given_name || ' ' || st.family_name) as name, st.left_on,
       (select count(*)::int from record_holds h where h.school_id = st.school_id and h.student_id = st.student_id and h.ended_at is null) as holds,
       (select count(*)::int from rights_requests r where r.school_id = st.school_id and r.student_id = st.student_id and r.ended_on is null) as requests
     from students st
     where st.school_id = :schoolId and st.left_on is not null and (:all or ${leads})
       and not exists (select 1 from erasures e where e.school_id = st.school_id and e.student_id = st.student_id
         and e.done_at is not null and 'record' = any(e.kinds))
     order by st.left_on, st.family_name, st.given_name, st.student_id`,
    { schoolId, all: actor.role === "administrator", personId: actor.personId },
  );
  return rows.map((row) => ({
    ...{ studentId: row.student_id, name: row.name, leftOn: row.left_on },
    ...{ holds: row.holds, openRequests: row.requests },
  }));
}
