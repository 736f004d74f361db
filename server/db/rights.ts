import { localMoment } from "#core/dates/school-time.ts";
import {
  isOutcomeOf,
  type ParentStatement,
  type RightsKind,
  type RightsOutcome,
} from "#core/retention/rights-request.ts";
import type { LinkActor } from "../access/actor.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { Invalid, notFound } from "../errors.ts";
import { recordEvent, recordEvents } from "./events.ts";

/** A request by right. Days are the school's own. */
export interface RightsRequest {
  requestId: string;
  studentId: string;
  kind: RightsKind;
  byWhom: string;
  /** Did it come from the family's page? */
  isOwn: boolean;
  words: string;
  receivedOn: string;
  ended: { outcome: RightsOutcome; on: string; words: string | null; by: string } | null;
}

interface RequestRow {
  request_id: string;
  student_id: string;
  kind: RightsKind;
  by_whom: string;
  guardian_id: string | null;
  words: string;
  received_on: string;
  outcome: RightsOutcome | null;
  outcome_words: string | null;
  ended_on: string | null;
  ended_by: string | null;
}

const toRequest = (row: RequestRow): RightsRequest => ({
  ...{ requestId: row.request_id, studentId: row.student_id, kind: row.kind, byWhom: row.by_whom },
  ...{ isOwn: row.guardian_id !== null, words: row.words, receivedOn: row.received_on },
  ended:
    row.outcome === null || row.ended_on === null
      ? null
      : { outcome: row.outcome, on: row.ended_on, words: row.outcome_words, by: row.ended_by ?? "" },
});

const requestColumns = `r.request_id, r.student_id, r.kind, r.by_whom, r.guardian_id, r.words, r.received_on, r.outcome, r.outcome_words,
  r.ended_on, e.given_name || ' ' || e.family_name as ended_by
  from rights_requests r left join people e on e.school_id = r.school_id and e.person_id = r.ended_by`;

/**
 * The requests about a student: the open ones first, by the day they came.
 *
 * @param guardianId those of one guardian alone
 */
export async function listRightsRequests(
  { trx, schoolId }: Scope,
  studentId: string,
  guardianId: string | null = null,
): Promise<RightsRequest[]> {
  const { rows } = await trx.raw<{ rows: RequestRow[] }>(
    `select ${requestColumns} where r.school_id = :schoolId and r.student_id = :studentId
       and (:guardianId::uuid is null or r.guardian_id = :guardianId)
     order by r.ended_on is not null, r.received_on desc, r.made_at desc`,
    { schoolId, studentId, guardianId },
  );
  return rows.map(toRequest);
}

/** A request that is open. */
export interface OpenRequest {
  requestId: string;
  studentId: string;
  name: string;
  kind: RightsKind;
  receivedOn: string;
}

/** The open requests about students whose circle the person leads, and for an administrator about any student, the oldest first. */
export async function listOpenRequests({ trx, schoolId, actor }: PersonScope): Promise<OpenRequest[]> {
  const { rows } = await trx.raw<{
    rows: { request_id: string; student_id: string; name: string; kind: RightsKind; received_on: string }[];
  }>(
    `select r.request_id, r.student_id, trim(st.given_name || ' ' || st.family_name) as name, r.kind, r.received_on
     from rights_requests r join students st on st.school_id = r.school_id and st.student_id = r.student_id
     where r.school_id = :schoolId and r.ended_on is null and (:all or exists (select 1 from circle c where c.school_id = r.school_id
       and c.student_id = r.student_id and c.person_id = :personId and c.part = 'lead' and in_circle_now(c.from_on, c.to_on)))
     order by r.received_on, r.made_at`,
    { schoolId, all: actor.role === "administrator", personId: actor.personId },
  );
  return rows.map((row) => ({
    ...{ requestId: row.request_id, studentId: row.student_id, name: row.name },
    ...{ kind: row.kind, receivedOn: row.received_on },
  }));
}

/** Writes down a request that came by another way than the family's page. The form made its id: sent twice, it is one. */
export async function noteRightsRequest(
  scope: PersonScope,
  request: Pick<RightsRequest, "requestId" | "studentId" | "kind" | "byWhom" | "words" | "receivedOn">,
): Promise<void> {
  requirePermission(scope, "rights.edit");
  const { trx, schoolId, actor } = scope;
  const { requestId, studentId, kind, byWhom, words, receivedOn } = request;
  const added = await trx("rights_requests")
    .insert({
      ...{ school_id: schoolId, request_id: requestId, student_id: studentId, kind, by_whom: byWhom, words },
      ...{ received_on: receivedOn, person_id: actor.personId },
    })
    .onConflict(["school_id", "request_id"])
    .ignore()
    .returning("request_id");
  if (added.length > 0)
    await recordEvent(scope, {
      ...{ thing: "rights request", act: "made", thingId: requestId, studentId, on: receivedOn },
    });
}

/**
 * A guardian asks on the family's page. Of a kind one request is open at a time.
 *
 * @returns false where one of this kind is open already
 */
export async function askByRight(
  scope: Scope<LinkActor>,
  { requestId, kind, words, byWhom }: Pick<RightsRequest, "requestId" | "kind" | "words" | "byWhom">,
): Promise<boolean> {
  requirePermission(scope, "rights.ask");
  const { trx, schoolId, today } = scope;
  const { studentId, linkId } = scope.actor;
  const { rows } = await trx.raw<{ rows: unknown[] }>(
    `insert into rights_requests (school_id, request_id, student_id, kind, guardian_id, by_whom, words, received_on)
     select :schoolId, :requestId, :studentId, :kind, :linkId, :byWhom, :words, :today
     where not exists (select 1 from rights_requests r where r.school_id = :schoolId and r.guardian_id = :linkId and r.kind = :kind
       and r.ended_on is null)
     on conflict do nothing returning request_id`,
    { schoolId, requestId, studentId, kind, linkId, byWhom, words, today },
  );
  if (rows.length === 0) return false;
  // The case manager hears of it, and the guardian that it arrived, as of a question.
  await recordEvents(scope, [
    { thing: "rights request", act: "made", thingId: requestId, studentId, on: today },
    { thing: "guardian", act: "asked", thingId: linkId, studentId },
  ]);
  return true;
}

/**
 * Ends a request, with what became of it.
 *
 * @throws NotFound, Invalid where this cannot become of such a request
 */
export async function endRightsRequest(
  scope: PersonScope,
  studentId: string,
  { requestId, outcome, words }: { requestId: string; outcome: RightsOutcome; words: string | null },
): Promise<void> {
  requirePermission(scope, "rights.edit");
  const { trx, schoolId, actor, today } = scope;
  const open = () =>
    trx("rights_requests")
      .where({ school_id: schoolId, student_id: studentId, request_id: requestId })
      .whereNull("ended_on");
  const row = await open().first("kind");
  if (!row) notFound();
  if (!isOutcomeOf(row.kind, outcome)) throw new Invalid({ outcome: "Choose what became of it." });
  await open().update({ outcome, outcome_words: words, ended_on: today, ended_by: actor.personId });
  await recordEvent(scope, { thing: "rights request", act: "ended", thingId: requestId, studentId });
}

/** A statement of parents as the page of rights shows it. */
export interface ListedStatement extends ParentStatement {
  /** The school's own moment at which it was withdrawn, and by whom; null while it goes with the record. */
  withdrawn: { at: string; by: string } | null;
}

/** The statements of parents in a student's record, the latest first. */
export async function listParentStatements(
  { trx, schoolId, timeZone }: Scope,
  studentId: string,
): Promise<ListedStatement[]> {
  const { rows } = await trx.raw<{
    rows: {
      statement_id: string;
      part: ParentStatement["part"];
      goal_id: string | null;
      by_whom: string;
      words: string;
      received_on: string;
      withdrawn_at: Date | null;
      withdrawn_by: string | null;
    }[];
  }>(
    `select s.statement_id, s.part, s.goal_id, s.by_whom, s.words, s.received_on, s.withdrawn_at,
       p.given_name || ' ' || p.family_name as withdrawn_by
     from parent_statements s left join people p on p.school_id = s.school_id and p.person_id = s.withdrawn_by
     where s.school_id = ? and s.student_id = ? order by s.received_on desc, s.made_at desc`,
    [schoolId, studentId],
  );
  return rows.map((row) => ({
    ...{ statementId: row.statement_id, part: row.part, goalId: row.goal_id, byWhom: row.by_whom },
    ...{ words: row.words, receivedOn: row.received_on },
    withdrawn:
      row.withdrawn_at === null
        ? null
        : { at: localMoment(timeZone, row.withdrawn_at.getTime()), by: row.withdrawn_by ?? "" },
  }));
}

/**
 * Puts a statement of parents into the record, as they wrote it. The form made its id: sent twice, it is one.
 *
 * @throws NotFound where the goal is not the student's
 */
export async function addParentStatement(
  scope: PersonScope,
  studentId: string,
  { statementId, part, goalId, byWhom, words, receivedOn }: ParentStatement,
): Promise<void> {
  requirePermission(scope, "parent-statement.write");
  const { trx, schoolId, actor } = scope;
  if (goalId !== null) {
    const key = { school_id: schoolId, goal_id: goalId, student_id: studentId };
    if (!(await trx("goals").where(key).first("goal_id"))) notFound();
  }
  const added = await trx("parent_statements")
    .insert({
      ...{ school_id: schoolId, statement_id: statementId, student_id: studentId, part, goal_id: goalId },
      ...{ by_whom: byWhom, words, received_on: receivedOn, person_id: actor.personId },
    })
    .onConflict(["school_id", "statement_id"])
    .ignore()
    .returning("statement_id");
  if (added.length > 0)
    await recordEvent(scope, { thing: "parent statement", act: "made", thingId: statementId, studentId });
}

/** The parents withdraw a statement: it goes with no report any more, and stays in the record as withdrawn. */
export async function withdrawParentStatement(
  scope: PersonScope,
  studentId: string,
  statementId: string,
): Promise<void> {
  requirePermission(scope, "parent-statement.write");
  const { trx, schoolId, actor, now } = scope;
  const changed = await trx("parent_statements")
    .where({ school_id: schoolId, student_id: studentId, statement_id: statementId })
    .whereNull("withdrawn_at")
    .update({ withdrawn_at: now, withdrawn_by: actor.personId });
  if (changed === 0) notFound();
  await recordEvent(scope, { thing: "parent statement", act: "withdrawn", thingId: statementId, studentId });
}
