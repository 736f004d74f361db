import { localMoment } from "#core/dates/school-time.ts";
import type { Addressee } from "#core/dispatch/writing-obstacle.ts";
import type { Language } from "#core/words/en.ts";
import { type PersonScope, requirePermission, type Scope } from "../access/scope.ts";
import { notFound } from "../errors.ts";
import { recordEvent } from "./events.ts";
import { addMessages, type MessageAbout } from "./messages.ts";

/** A guardian as one chooses whom to write to. */
export interface FamilyReader extends Addressee {
  guardianId: string;
  studentId: string;
  name: string;
  relation: string;
  language: Language;
}

/** The guardians of these students, by student and name. */
export async function listFamilies(
  { trx, schoolId }: Scope,
  studentIds: readonly string[],
): Promise<FamilyReader[]> {
  const { rows } = await trx.raw<{
    rows: {
      guardian_id: string;
      student_id: string;
      name: string;
      relation: string;
      language: Language;
      email: string | null;
      has_agreed: boolean;
      is_confirmed: boolean;
      may_read: boolean;
      answer: string | null;
    }[];
  }>(
    `select g.guardian_id, g.student_id, g.name, g.relation, g.language, g.email, g.mail_agreed_on is not null as has_agreed,
       coalesce(g.confirmed_email = lower(g.email), false) as is_confirmed, w.answer,
       exists (select 1 from gate.guardian_now(g.school_id, g.guardian_id)) as may_read
     from guardians g left join wrong_addresses w on w.school_id = g.school_id and w.email = lower(g.email)
     where g.school_id = :schoolId and g.student_id = any(:studentIds) and g.removed_at is null
     order by g.student_id, g.name, g.guardian_id`,
    { schoolId, studentIds: [...studentIds] },
  );
  return rows.map((row) => ({
    ...{ guardianId: row.guardian_id, studentId: row.student_id, name: row.name, relation: row.relation },
    ...{ language: row.language, email: row.email, hasAgreed: row.has_agreed, isConfirmed: row.is_confirmed },
    ...{ mayRead: row.may_read, refusedWith: row.answer },
  }));
}

/** The latest edition that is on the page of each student's family, made on a day or after it; students without one are left out. */
export async function listSharedEditions(
  { trx, schoolId }: Scope,
  studentIds: readonly string[],
  fromOn: string,
): Promise<Map<string, { editionId: string; number: number }>> {
  const { rows } = await trx.raw<{ rows: { student_id: string; edition_id: string; number: number }[] }>(
    `select distinct on (e.student_id) e.student_id, e.edition_id, e.number from editions e
     where e.school_id = :schoolId and e.student_id = any(:studentIds) and e.audience = 'family' and e.made_on >= :fromOn
       and exists (select 1 from edition_shares s where s.school_id = e.school_id and s.edition_id = e.edition_id and s.how = 'family page')
     order by e.student_id, e.number desc`,
    { schoolId, studentIds: [...studentIds], fromOn },
  );
  return new Map(
    rows.map(({ student_id, edition_id, number }) => [student_id, { editionId: edition_id, number }]),
  );
}

/** A message to several: what it is, to whom, and who gets none and why. */
export interface NewBatch {
  batchId: string;
  title: string;
  what: "words" | "reports";
  written: NonNullable<MessageAbout["written"]>;
  /** Whose words they are. */
  by: string;
  to: readonly { guardianId: string; studentId: string; editionId: string | null }[];
  out: readonly { name: string; why: string }[];
}

interface StoredChoice {
  title: string;
  what: NewBatch["what"];
  out: NewBatch["out"];
  count: number;
}

/** Sends a message to several. Sent twice by the same form, it is one. */
export async function sendToMany(scope: PersonScope, batch: NewBatch): Promise<void> {
  requirePermission(scope, "messages.many");
  const { trx, schoolId, actor } = scope;
  const choice: StoredChoice = {
    ...{ title: batch.title, what: batch.what, out: batch.out, count: batch.to.length },
  };
  const added: unknown[] = await trx("message_batches")
    .insert({
      ...{ school_id: schoolId, batch_id: batch.batchId, person_id: actor.personId },
      choice: JSON.stringify(choice),
    })
    .onConflict(["school_id", "batch_id"])
    .ignore()
    .returning("batch_id");
  if (added.length === 0) return;
  await addMessages(
    scope,
    batch.to.map(({ guardianId, studentId, editionId }) => ({
      ...{ kind: batch.what === "words" ? ("words" as const) : ("edition" as const), studentId },
      ...{ reader: { guardianId }, batchId: batch.batchId },
      about: {
        ...(editionId === null ? {} : { things: [editionId] }),
        ...(batch.what === "words" ? { written: batch.written, by: batch.by } : {}),
      },
    })),
  );
  await recordEvent(scope, {
    ...{ thing: "message to many", act: "sent" },
    ...{ thingId: batch.batchId, studentId: null },
  });
}

/** A message to several as it stands now. */
export interface Batch extends StoredChoice {
  batchId: string;
  personId: string;
  madeAt: string;
  isCancelled: boolean;
  sent: number;
  /** How many are still on their way. */
  waiting: number;
}

interface BatchRow {
  batch_id: string;
  person_id: string;
  made_at: Date;
  choice: StoredChoice;
  cancelled_at: Date | null;
  sent: number;
  waiting: number;
}

const readBatches = `select b.batch_id, b.person_id, b.made_at, b.choice, b.cancelled_at,
    count(m.message_id) filter (where m.state = 'sent')::int as sent,
    count(m.message_id) filter (where m.state in ('waiting', 'sending', 'deferred') or m.state = 'held' and m.next_at < 'infinity')::int as waiting
  from message_batches b left join messages m on m.school_id = b.school_id and m.batch_id = b.batch_id
  where b.school_id = :schoolId`;

const toBatch = ({ timeZone }: Scope, row: BatchRow): Batch => ({
  ...row.choice,
  ...{ batchId: row.batch_id, personId: row.person_id, sent: row.sent, waiting: row.waiting },
  madeAt: localMoment(timeZone, row.made_at.getTime()),
  isCancelled: row.cancelled_at !== null,
});

/** What the person sent to several, and for an administrator what everybody did; the newest first. */
export async function listBatches(scope: PersonScope, limit: number): Promise<Batch[]> {
  const { rows } = await scope.trx.raw<{ rows: BatchRow[] }>(
    `${readBatches} group by b.school_id, b.batch_id order by b.made_at desc limit :limit`,
    { schoolId: scope.schoolId, limit },
  );
  return rows.map((row) => toBatch(scope, row));
}

/**
 * One of these.
 *
 * @throws NotFound
 */
export async function findBatch(scope: PersonScope, batchId: string): Promise<Batch> {
  const { rows } = await scope.trx.raw<{ rows: BatchRow[] }>(
    `${readBatches} and b.batch_id = :batchId group by b.school_id, b.batch_id`,
    { schoolId: scope.schoolId, batchId },
  );
  return toBatch(scope, rows[0] ?? notFound());
}

/** Who wrote to several and how many it reached, once none is on its way any more; null before. */
export async function findDoneBatch(
  { trx, schoolId }: Scope,
  batchId: string,
): Promise<{ personId: string; sent: number } | null> {
  const { rows } = await trx.raw<{ rows: Pick<BatchRow, "person_id" | "sent" | "waiting">[] }>(
    `${readBatches} and b.batch_id = :batchId group by b.school_id, b.batch_id`,
    { schoolId, batchId },
  );
  const [row] = rows;
  return row?.waiting === 0 ? { personId: row.person_id, sent: row.sent } : null;
}

/** Cancels what has not gone of a message to several. Answers with how many there were. */
export async function cancelBatch(scope: PersonScope, batchId: string): Promise<number> {
  await findBatch(scope, batchId);
  const { trx, schoolId, actor, now } = scope;
  const key = { school_id: schoolId, batch_id: batchId };
  const count = await trx("messages")
    .where(key)
    .whereIn("state", ["waiting", "held", "deferred"])
    .update({ state: "cancelled", why: "by a person", over_at: now, decided_by: actor.personId });
  await trx("message_batches").where(key).whereNull("cancelled_at").update({ cancelled_at: now });
  await recordEvent(scope, {
    ...{ thing: "message to many", act: "cancelled" },
    ...{ thingId: batchId, studentId: null },
  });
  return count;
}
