import type { MessageKind } from "#core/dispatch/message-kinds.ts";
import { localMoment } from "#core/dates/school-time.ts";
import { initialsOf } from "#core/model/student-names.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { may } from "../access/table.ts";
import { Conflict, Invalid, notFound, Refused } from "../errors.ts";
import { enqueueJob } from "../jobs/enqueue.ts";
import { recordEvent } from "./events.ts";
import { freeHeld, isStuckMessage, type MessageAbout, type MessageState, noteBecame } from "./messages.ts";
import { leads } from "./students.ts";

/** A message in a list. Moments are the school's own, `YYYY-MM-DDTHH:MM:SS`. */
export interface ListedMessage {
  messageId: string;
  kind: MessageKind;
  reader: { name: string; email: string | null; personId: string | null; guardianId: string | null };
  student: { studentId: string; initials: string } | null;
  /** As it was sent; null before, and for an administrator about a student in whose circle they are not. */
  subject: string | null;
  to: string | null;
  state: MessageState;
  why: string | null;
  answer: string | null;
  tries: number;
  madeAt: string;
  /** When it is looked at next; null where somebody has to do something first, or it is over. */
  nextAt: string | null;
  overAt: string | null;
  openedAt: string | null;
  batchId: string | null;
  about: MessageAbout;
  /** May the person who asks cancel it, send it again, or say what became of it? */
  mayDecide: boolean;
  /** For the next page of a list. */
  place: string;
}

/** Which messages are wanted. */
export interface MessageFilter {
  states?: readonly MessageState[];
  /** Held until somebody does something, or refused, given up or unknown. */
  isStuck?: boolean;
  studentId?: string;
  readerId?: string;
  batchId?: string;
  messageId?: string;
  before?: string;
}

interface ListedRow {
  message_id: string;
  kind: MessageKind;
  person_id: string | null;
  guardian_id: string | null;
  reader_name: string;
  email: string | null;
  student_id: string | null;
  initials: string | null;
  given: string | null;
  family: string | null;
  subject: string | null;
  to_address: string | null;
  state: MessageState;
  why: string | null;
  answer: string | null;
  tries: number;
  made_at: Date;
  next_at: Date | null;
  over_at: Date | null;
  opened_at: Date | null;
  batch_id: string | null;
  about: MessageAbout;
  may_decide: boolean;
  may_read: boolean;
  place: string;
}

/** Of messages `m`: those of a student whose circle the person leads, that they sent to many, or any for an administrator. */
const mayDecide = `(:seesAll or m.decidable)`;

/**
 * The messages that a person may know of, the newest first: those to themselves, those about students whose circle they lead, those they sent to
 * many, and all for an administrator.
 */
export async function listMessages(
  { trx, schoolId, actor, timeZone }: PersonScope,
  { states, isStuck: stuck, studentId, readerId, batchId, messageId, before }: MessageFilter,
  limit: number,
): Promise<ListedMessage[]> {
  const { rows } = await trx.raw<{ rows: ListedRow[] }>(
    `select m.*, case when m.next_at = 'infinity' then null else m.next_at end as next_at, ${mayDecide} as may_decide,
       (m.student_id is null or m.decidable or m.person_id = :personId) as may_read
     from (
       select m.*, coalesce(p.given_name || ' ' || p.family_name, g.name, '') as reader_name, coalesce(p.email, g.email) as email,
         st.initials, coalesce(st.preferred_name, st.given_name) as given, st.family_name as family,
         (m.student_id is not null and exists (select 1 from students st where st.school_id = m.school_id and st.student_id = m.student_id and ${leads})
           or exists (select 1 from message_batches b where b.school_id = m.school_id and b.batch_id = m.batch_id and b.person_id = :personId)) as decidable
       from messages m
       left join people p on p.school_id = m.school_id and p.person_id = m.person_id
       left join guardians g on g.school_id = m.school_id and g.guardian_id = m.guardian_id
       left join students st on st.school_id = m.school_id and st.student_id = m.student_id
       where m.school_id = :schoolId
         and (:states::text[] is null or m.state = any(:states)) and (not :stuck or ${isStuckMessage})
         and (:studentId::uuid is null or m.student_id = :studentId) and (:readerId::uuid is null or m.reader_id = :readerId)
         and (:batchId::uuid is null or m.batch_id = :batchId) and (:messageId::uuid is null or m.message_id = :messageId)
         and (:before::bigint is null or m.place < :before)
     ) m
     where :seesAll or m.decidable or m.person_id = :personId
     order by m.place desc limit :limit`,
    {
      ...{
        schoolId,
        personId: actor.personId,
        seesAll: may(actor, "messages.all", { circleRole: null }),
        limit,
      },
      ...{ states: states ? [...states] : null, stuck: stuck ?? false, studentId: studentId ?? null },
      ...{ readerId: readerId ?? null, batchId: batchId ?? null, messageId: messageId ?? null },
      before: before ?? null,
    },
  );
  const local = (moment: Date | null) => moment && localMoment(timeZone, moment.getTime());
  return rows.map((row) => ({
    ...{ messageId: row.message_id, kind: row.kind, to: row.to_address },
    subject: row.may_read ? row.subject : null,
    reader: {
      ...{ name: row.reader_name, email: row.email, personId: row.person_id, guardianId: row.guardian_id },
    },
    student:
      row.student_id === null
        ? null
        : {
            studentId: row.student_id,
            initials: row.initials ?? initialsOf(row.given ?? "", row.family ?? ""),
          },
    ...{ state: row.state, why: row.why, answer: row.answer, tries: row.tries, about: row.about },
    ...{ madeAt: local(row.made_at) ?? "", nextAt: local(row.next_at), overAt: local(row.over_at) },
    ...{ openedAt: local(row.opened_at), batchId: row.batch_id, mayDecide: row.may_decide, place: row.place },
  }));
}

/**
 * One message that the person may know of.
 *
 * @throws NotFound
 */
export async function findMessage(scope: PersonScope, messageId: string): Promise<ListedMessage> {
  const [message] = await listMessages(scope, { messageId }, 1);
  return message ?? notFound();
}

/** The text of a message as it was sent; null where it is not stored, or not for this person. */
export async function readMessageText({ trx, schoolId }: Scope, messageId: string): Promise<string | null> {
  const row = await trx("message_texts").where({ school_id: schoolId, message_id: messageId }).first("body");
  return row?.body ?? null;
}

/** A message about a student that went to somebody outside the school's staff. Moments are the school's own. */
export interface SentOut {
  messageId: string;
  kind: MessageKind;
  to: string;
  sentAt: string;
  openedAt: string | null;
}

/** What was sent to the family of a student, for everybody in the circle: what, to whom, and when its link was opened. The newest first. */
export async function listSentOut(
  { trx, schoolId, timeZone }: Scope,
  studentId: string,
  limit: number,
): Promise<SentOut[]> {
  const { rows } = await trx.raw<{
    rows: { message_id: string; kind: MessageKind; name: string; over_at: Date; opened_at: Date | null }[];
  }>(
    `select m.message_id, m.kind, g.name, m.over_at, m.opened_at
     from messages m join guardians g on g.school_id = m.school_id and g.guardian_id = m.guardian_id
     where m.school_id = :schoolId and m.student_id = :studentId and m.state = 'sent' and m.kind <> 'receipt'
     order by m.over_at desc, m.place desc limit :limit`,
    { schoolId, studentId, limit },
  );
  const local = (moment: Date) => localMoment(timeZone, moment.getTime());
  return rows.map((row) => ({
    ...{ messageId: row.message_id, kind: row.kind, to: row.name, sentAt: local(row.over_at) },
    openedAt: row.opened_at && local(row.opened_at),
  }));
}

/** How many messages that the person may decide on wait for somebody to do something. */
export async function countStuck(scope: PersonScope): Promise<number> {
  return (await listMessages(scope, { isStuck: true }, 200)).filter(({ mayDecide: decides }) => decides)
    .length;
}

async function findDecidable(scope: PersonScope, messageId: string): Promise<ListedMessage> {
  const message = await findMessage(scope, messageId);
  if (!message.mayDecide) throw new Refused([], true);
  return message;
}

const decided = async (scope: PersonScope, messageId: string) => {
  await scope
    .trx("messages")
    .where({ school_id: scope.schoolId, message_id: messageId })
    .update({ decided_by: scope.actor.personId });
};

const noted = (
  scope: PersonScope,
  { messageId, student }: ListedMessage,
  act: "cancelled" | "left" | "sent again" | "arrived",
) =>
  recordEvent(scope, {
    ...{ thing: "message", act },
    ...{ thingId: messageId, studentId: student?.studentId ?? null },
  });

/**
 * Leaves a message that was refused or given up as it is: nobody is asked to look at it any more.
 *
 * @throws Conflict where it is neither
 */
export async function leaveMessage(scope: PersonScope, messageId: string): Promise<void> {
  const message = await findDecidable(scope, messageId);
  if (message.state !== "refused" && message.state !== "given up") throw new Conflict();
  await decided(scope, messageId);
  await noted(scope, message, "left");
}

/**
 * Cancels a message that has not gone.
 *
 * @throws Conflict where it is over, or on its way in this moment
 */
export async function cancelMessage(scope: PersonScope, messageId: string): Promise<void> {
  const message = await findDecidable(scope, messageId);
  const changed = await scope
    .trx("messages")
    .where({ school_id: scope.schoolId, message_id: messageId })
    .whereIn("state", ["waiting", "held", "deferred"])
    .update({ state: "cancelled", why: "by a person", over_at: scope.now, decided_by: scope.actor.personId });
  if (changed === 0) throw new Conflict();
  await noted(scope, message, "cancelled");
}

/**
 * Has a message sent again now: one that waits for its next try, that was refused or given up, or of which it is not known whether it arrived.
 *
 * @throws Conflict where it was sent, or is on its way in this moment
 */
export async function sendMessageAgain(scope: PersonScope, messageId: string): Promise<void> {
  const message = await findDecidable(scope, messageId);
  const { trx, schoolId, now } = scope;
  const changed = await trx("messages")
    .where({ school_id: schoolId, message_id: messageId })
    .whereIn("state", ["waiting", "held", "deferred", "refused", "given up", "unknown"])
    .update({
      // What becomes of it this time is to be looked at again.
      ...{ state: "waiting", why: null, next_at: now, over_at: null, decided_by: null },
      // A try that failed is not counted against the new ones.
      tries: 0,
    });
  if (changed === 0) throw new Conflict();
  const email = message.reader.email?.toLowerCase();
  if (email) {
    await trx("wrong_addresses").where({ school_id: schoolId, email }).delete();
    await freeHeld(scope, message.reader.personId ?? message.reader.guardianId ?? "", [
      "wrong address",
      "no address",
    ]);
  }
  await enqueueJob(trx, {
    queue: "deliver",
    data: { schoolId, readerId: message.reader.personId ?? message.reader.guardianId ?? "" },
  });
  await noted(scope, message, "sent again");
}

/** Notes that a message of which it was not known arrived after all. */
export async function noteArrived(scope: PersonScope, messageId: string): Promise<void> {
  const message = await findDecidable(scope, messageId);
  if (message.state !== "unknown") throw new Conflict();
  await noteBecame(scope, messageId, { state: "sent", why: "confirmed by a person" });
  await decided(scope, messageId);
  await noted(scope, message, "arrived");
}

/**
 * Corrects the address of a message's reader and has the message and everything that is held for it sent. A guardian's address is corrected by who leads
 * the student's circle, a colleague's by an administrator.
 */
export async function correctAddress(scope: PersonScope, messageId: string, email: string): Promise<void> {
  const message = await findDecidable(scope, messageId);
  const { trx, schoolId, actor } = scope;
  const { personId, guardianId } = message.reader;
  if (personId !== null) {
    requirePermission(scope, "staff.edit");
    const other = await trx("people")
      .where({ school_id: schoolId, email })
      .whereNot({ person_id: personId })
      .first("person_id");
    if (other) throw new Invalid({ email: "Another colleague has this address." });
    await trx("people").where({ school_id: schoolId, person_id: personId }).update({ email });
    await recordEvent(scope, { thing: "person", act: "saved", thingId: personId, studentId: null });
  } else {
    const studentId = message.student?.studentId ?? notFound();
    // Who corrects an address has checked it: no code has to confirm it first.
    const changed = await trx("guardians")
      .where({ school_id: schoolId, guardian_id: guardianId ?? notFound(), student_id: studentId })
      .update({ email, confirmed_email: email });
    if (changed === 0) notFound();
    // A link that was made for one address is not opened by codes sent to another.
    await trx.raw("select gate.end_family(?, false)", [guardianId]);
    await recordEvent(scope, { thing: "guardian", act: "changed", thingId: guardianId, studentId });
  }
  const readerId = personId ?? guardianId ?? actor.personId;
  await freeHeld(scope, readerId, ["wrong address", "no address", "not confirmed"]);
  await sendMessageAgain(scope, messageId);
}

/** A person's addresses that a mail server refused, with its answer, by address. */
export async function listWrongAddresses({ trx, schoolId }: Scope): Promise<Map<string, string>> {
  const rows = await trx("wrong_addresses").where({ school_id: schoolId }).select("email", "answer");
  return new Map(rows.map(({ email, answer }) => [email, answer]));
}

/** Notes that the reader of a message opened its link, the first time. Answers with the message, or null where it is not theirs. */
export async function noteOpened(
  scope: Scope,
  messageId: string,
  reader: { personId: string } | { guardianId: string },
): Promise<{ kind: MessageKind; studentId: string | null; about: MessageAbout } | null> {
  const { trx, schoolId, now } = scope;
  const key = { school_id: schoolId, message_id: messageId };
  const mine = "personId" in reader ? { person_id: reader.personId } : { guardian_id: reader.guardianId };
  const row = await trx("messages")
    .where({ ...key, ...mine })
    .first("kind", "student_id", "about", "opened_at");
  if (!row) return null;
  if (row.opened_at === null) {
    await trx("messages").where(key).update({ opened_at: now });
    await recordEvent(scope, {
      ...{ thing: "message", act: "opened" },
      ...{ thingId: messageId, studentId: row.student_id },
    });
  }
  return { kind: row.kind as MessageKind, studentId: row.student_id, about: row.about as MessageAbout };
}
