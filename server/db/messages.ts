import { v7 as newId } from "uuid";
import { isUrgent, type MessageKind } from "#core/dispatch/message-kinds.ts";
import type { JobActor } from "../access/actor.ts";
import { requirePermission, type Scope } from "../access/scope.ts";
import { enqueueJob } from "../jobs/enqueue.ts";
import { keyIn, type KeyedRun } from "./app-key.ts";
import type { Database } from "./connection.ts";
import type { Tables } from "./tables.ts";

/** What can become of a message. */
export type MessageState = Tables["messages"]["state"];

/** Is the message `m` stuck until somebody does something? */
export const isStuckMessage = `(m.state in ('refused', 'given up', 'unknown') and m.decided_by is null or m.state = 'held' and m.next_at = 'infinity')`;

/** What a message is about, by ids and by words that its author wrote. */
export interface MessageAbout {
  /** Entries, incidents and so on. */
  things?: readonly string[];
  goalId?: string;
  /** A finding: a standing's key, or "pattern". */
  standing?: string;
  /** Of a summary: what it was to tell of. */
  news?: readonly { kind: MessageKind; studentId: string; things: readonly string[] }[];
  ticketId?: string;
  /** The address of this site, as the browser knew it of whom it was asked by. */
  origin?: string;
  /** Words of a person, by language, with the subject. */
  written?: Partial<Record<"en" | "es", { subject: string; words: string }>>;
  /** What is confirmed: a receipt. */
  receipt?: "question received" | "all sent";
  count?: number;
  /** Whose words they are, as they sign. */
  by?: string;
}

/** A message as it is made. */
export interface NewMessage {
  messageId?: string;
  kind: MessageKind;
  reader: { personId: string } | { guardianId: string };
  studentId: string | null;
  about: MessageAbout;
  batchId?: string;
  /** Milliseconds to wait for more of the same. */
  gatherMs?: number;
}

/** A message that is to be sent. */
export interface Message {
  messageId: string;
  kind: MessageKind;
  personId: string | null;
  guardianId: string | null;
  readerId: string;
  studentId: string | null;
  about: MessageAbout;
  batchId: string | null;
  isUrgent: boolean;
  madeAt: Date;
  tries: number;
}

type MessageRow = Tables["messages"];

const toMessage = (row: MessageRow): Message => ({
  ...{ messageId: row.message_id, kind: row.kind as MessageKind, about: row.about as MessageAbout },
  ...{ personId: row.person_id, guardianId: row.guardian_id, readerId: row.reader_id },
  ...{ studentId: row.student_id, batchId: row.batch_id, isUrgent: row.is_urgent },
  ...{ madeAt: row.made_at, tries: row.tries },
});

const ofReader = (reader: NewMessage["reader"]) => ({
  person_id: "personId" in reader ? reader.personId : null,
  guardian_id: "guardianId" in reader ? reader.guardianId : null,
});

/** Adds messages, in their order, and has each reader's sent. A message whose id is there already is not made twice. */
export async function addMessages(scope: Scope, messages: readonly NewMessage[]): Promise<void> {
  if (messages.length === 0) return;
  const { trx, schoolId, now } = scope;
  const rows = messages.map(({ messageId, kind, reader, studentId, about, batchId, gatherMs = 0 }) => ({
    ...{ school_id: schoolId, message_id: messageId ?? newId(), kind, ...ofReader(reader) },
    ...{ student_id: studentId, about: JSON.stringify(about), batch_id: batchId ?? null },
    ...{ is_urgent: isUrgent(kind), next_at: new Date(now.getTime() + gatherMs) },
  }));
  await trx("messages").insert(rows).onConflict(["school_id", "message_id"]).ignore();
  const atOnce = new Set(
    messages.flatMap(({ reader, gatherMs = 0 }) =>
      gatherMs > 0 ? [] : "personId" in reader ? reader.personId : reader.guardianId,
    ),
  );
  // Many are found by whoever looks for what is due.
  if (atOnce.size <= 5)
    for (const readerId of atOnce) await enqueueJob(trx, { queue: "deliver", data: { schoolId, readerId } });
}

/**
 * Adds what happened to a message of the same kind about the same student that was not sent yet, or makes one: who saves ten entries in a row is
 * not the reason for ten messages.
 */
export async function gatherMessage(
  scope: Scope<JobActor>,
  message: NewMessage & { studentId: string },
): Promise<void> {
  requirePermission(scope, "messages.send");
  const { kind, reader, studentId, about } = message;
  const { rows } = await scope.trx.raw<{ rows: unknown[] }>(
    `update messages m set about = jsonb_set(m.about, '{things}', coalesce(m.about -> 'things', '[]') || :things::jsonb)
     where (m.school_id, m.message_id) = (select school_id, message_id from messages
       where school_id = :schoolId and reader_id = :readerId and kind = :kind and student_id = :studentId
         and state in ('waiting', 'held') and (about ->> 'goalId') is not distinct from :goalId order by place desc limit 1)
       and m.state in ('waiting', 'held')
     returning m.message_id`,
    {
      ...{ schoolId: scope.schoolId, kind, studentId, goalId: about.goalId ?? null },
      readerId: "personId" in reader ? reader.personId : reader.guardianId,
      things: JSON.stringify(about.things ?? []),
    },
  );
  if (rows.length === 0) await addMessages(scope, [message]);
}

/** Was this person told of this incident's harm before? */
export async function listToldOfHarm(
  { trx, schoolId }: Scope<JobActor>,
  incidentIds: readonly string[],
): Promise<Set<string>> {
  const { rows } = await trx.raw<{ rows: { person_id: string; thing: string }[] }>(
    `select m.person_id, thing from messages m, jsonb_array_elements_text(m.about -> 'things') as thing
     where m.school_id = ? and m.kind = 'harm' and thing = any(?)`,
    [schoolId, [...incidentIds]],
  );
  return new Set(rows.map(({ person_id, thing }) => `${person_id} ${thing}`));
}

/** Readers with messages that are due now, in all schools, or whose process is silent for so long that it must have ended. */
export async function listDueReaders(
  database: KeyedRun,
  silentSeconds: number,
): Promise<{ schoolId: string; readerId: string }[]> {
  const { rows } = await database.raw<{ rows: { school_id: string; reader_id: string }[] }>(
    "select * from gate.mail_due(?, make_interval(secs => ?))",
    [keyIn(database), silentSeconds],
  );
  return rows.map(({ school_id, reader_id }) => ({ schoolId: school_id, readerId: reader_id }));
}

/**
 * Marks as unknown what a process was sending that is not heard of any more: it may have been sent. Answers with how many there were.
 */
export async function endSilent(
  { trx, schoolId, now }: Scope<JobActor>,
  readerId: string,
  silentSeconds: number,
): Promise<number> {
  const { rows } = await trx.raw<{ rows: unknown[] }>(
    `update messages set state = 'unknown', why = 'process ended', begun_at = null, over_at = :now
     where school_id = :schoolId and reader_id = :readerId and state = 'sending' and begun_at < now() - make_interval(secs => :silent)
     returning message_id`,
    { schoolId, readerId, silent: silentSeconds, now },
  );
  return rows.length;
}

/**
 * The next message of a reader that is due: urgent ones first, then in the order in which they were made. None where another process sends to
 * the same reader now, or where an earlier one is put off: the order of a reader's messages stays.
 */
export async function lockNextMessage(
  { trx, schoolId }: Scope<JobActor>,
  readerId: string,
): Promise<Message | null> {
  const { rows } = await trx.raw<{ rows: MessageRow[] }>(
    `select m.* from messages m
     where m.school_id = :schoolId and m.reader_id = :readerId and m.state in ('waiting', 'held', 'deferred') and m.next_at <= clock_now()
       and not exists (select 1 from messages o where o.school_id = m.school_id and o.reader_id = m.reader_id and o.state = 'sending')
       and (m.is_urgent or not exists (select 1 from messages o where o.school_id = m.school_id and o.reader_id = m.reader_id
         and o.state in ('waiting', 'deferred') and o.place < m.place and not o.is_urgent and o.next_at > clock_now() and o.tries > 0))
     order by m.is_urgent desc, m.place limit 1 for update`,
    { schoolId, readerId },
  );
  return rows[0] ? toMessage(rows[0]) : null;
}

const keyOf = ({ schoolId }: Scope, messageId: string) => ({ school_id: schoolId, message_id: messageId });

/** The next try of a message begins, with this text. What lets somebody in is not stored. */
export async function beginTry(
  scope: Scope<JobActor>,
  message: Message,
  { to, subject, body }: { to: string; subject: string; body: string | null },
): Promise<void> {
  const { trx, schoolId } = scope;
  await trx("messages")
    .where(keyOf(scope, message.messageId))
    .update({
      ...{ state: "sending", why: null, to_address: to, subject, tries: message.tries + 1 },
      begun_at: trx.raw("now()"),
    });
  if (body !== null)
    await trx("message_texts")
      .insert({
        ...{ school_id: schoolId, message_id: message.messageId, body },
        ...{ student_id: message.studentId, person_id: message.personId },
      })
      .onConflict(["school_id", "message_id"])
      .merge(["body"]);
}

/** What became of a message, or why it waits. */
export interface Became {
  state: Exclude<MessageState, "sending">;
  why?: string | null;
  answer?: string | null;
  /** When it is looked at next; null: not before somebody does something. */
  nextAt?: Date | null;
}

const isOver = (state: MessageState) => !["waiting", "held", "sending", "deferred"].includes(state);

/** Notes what became of a message, or until when it waits and why. */
export async function noteBecame(
  scope: Scope,
  messageId: string,
  { state, why = null, answer, nextAt }: Became,
): Promise<void> {
  await scope
    .trx("messages")
    .where(keyOf(scope, messageId))
    .update({
      ...{ state, why, begun_at: null, over_at: isOver(state) ? scope.now : null },
      ...(answer === undefined ? {} : { answer }),
      ...(nextAt === undefined ? {} : { next_at: nextAt ?? scope.trx.raw("'infinity'") }),
    });
}

/** What is held for a reader for one of these reasons waits for its turn again. Answers with how many there were. */
export async function freeHeld(
  { trx, schoolId, now }: Scope,
  readerId: string,
  reasons: readonly string[],
): Promise<number> {
  return trx("messages")
    .where({ school_id: schoolId, reader_id: readerId, state: "held" })
    .whereIn("why", [...reasons])
    .update({ state: "waiting", why: null, next_at: now });
}

/**
 * How many messages the school has sent since a moment, those on their way and of which it is not known among them. Who counts holds the count until
 * their transaction ends: two that send at once do not both take the last place of a day.
 */
export async function countSentSince({ trx, schoolId }: Scope, since: Date): Promise<number> {
  await trx.raw("select pg_advisory_xact_lock(hashtextextended(?, 0))", [`messages of the day ${schoolId}`]);
  const { rows } = await trx.raw<{ rows: { n: number }[] }>(
    "select count(*)::int as n from messages where school_id = ? and (state = 'sending' or state in ('sent', 'unknown') and over_at >= ?)",
    [schoolId, since],
  );
  return rows[0]?.n ?? 0;
}

/** Notes that a mail server refused an address: what waits for it is held when its turn comes. */
export async function noteWrongAddress(
  { trx, schoolId }: Scope<JobActor>,
  email: string,
  answer: string,
): Promise<void> {
  await trx("wrong_addresses")
    .insert({ school_id: schoolId, email: email.toLowerCase(), answer })
    .onConflict(["school_id", "email"])
    .merge(["answer"]);
}

/** Whose a ticket is, and in which school they are written to; null where it is gone. */
export async function findReaderOfTicket(
  database: Database,
  ticketId: string,
): Promise<{ schoolId: string; reader: NewMessage["reader"]; kind: "invitation" | "reset" } | null> {
  const { rows } = await database.raw<{
    rows: {
      school_id: string | null;
      person_id: string | null;
      guardian_id: string | null;
      purpose: "invitation" | "reset";
    }[];
  }>("select * from gate.reader_of_ticket(?, ?)", [keyIn(database), ticketId]);
  const [row] = rows;
  if (!row?.school_id) return null;
  const reader = row.person_id
    ? { personId: row.person_id }
    : row.guardian_id
      ? { guardianId: row.guardian_id }
      : null;
  return reader && { schoolId: row.school_id, reader, kind: row.purpose };
}

/** A code went to this address: whoever opens the page with it reads mail there. */
export async function noteCodeMailed(
  database: KeyedRun,
  { schoolId, guardianId, email }: { schoolId: string; guardianId: string; email: string },
): Promise<void> {
  await database.raw("select gate.code_mailed(?, ?, ?, ?)", [keyIn(database), schoolId, guardianId, email]);
}
