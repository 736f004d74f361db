import { v5 as idOf } from "uuid";
import { nextTryAfter } from "#core/dispatch/next-try.ts";
import { writingObstacle } from "#core/dispatch/writing-obstacle.ts";
import { sendableFrom } from "#core/dispatch/sending-hours.ts";
import { isSecret, type MessageKind } from "#core/dispatch/message-kinds.ts";
import { momentOfLocal } from "#core/dates/school-time.ts";
import type { JobActor } from "../access/actor.ts";
import type { Scope } from "../access/scope.ts";
import { linkToMail } from "../auth/links.ts";
import { makeFamilyCode } from "../auth/family.ts";
import { readCalendar } from "../db/calendar.ts";
import type { KeyedRun } from "../db/app-key.ts";
import type { Database } from "../db/connection.ts";
import { recordEvent } from "../db/events.ts";
import { findMailServer, noteMailServerWorks, readMessageSettings } from "../db/mail-settings.ts";
import { findReader, listStaffReaders, type Reader } from "../db/message-readers.ts";
import { findDoneBatch } from "../db/message-batches.ts";
import {
  addMessages,
  beginTry,
  type Became,
  countSentSince,
  endSilent,
  lockNextMessage,
  type Message,
  noteBecame,
  noteCodeMailed,
  noteWrongAddress,
} from "../db/messages.ts";
import { withScope } from "../db/school.ts";
import { log, loggableError } from "../failure.ts";
import { mailed } from "../metrics.ts";
import { dateOfDay, dayNumber } from "#core/dates/day-number.ts";
import { withOwnLocale, writeIn } from "../locale.ts";
import { readSchoolLocale } from "../db/locale.ts";
import { composeMessage, type Composed, type Secret } from "./compose-message.ts";
import { type MailServer, type Outcome, tryToSend } from "./mail-server.ts";

/** What sending needs to know. */
export interface Sending {
  database: Database;
  /** The mail server of this installation; null where none is set. Schools may have their own. */
  mailServer: MailServer | null;
  /** The address of this site, as its readers reach it. */
  site: string;
  /** A process that is silent for so long while it sends must have ended. */
  silentSeconds?: number;
  /** So long a mail server may be silent. */
  patienceMs?: number;
  /** Called between the answer of the mail server and noting it: a test ends the process there. */
  beforeNoting?: () => void;
}

/** The name space of the ids of receipts (RFC 9562, version 5). */
const receiptNames = "7b6a4b1e-0f9f-4d59-8c3b-5b1a2f0c9d42";

const actorOf = (schoolId: string): JobActor => ({ kind: "job", schoolId, name: "deliver" });

/** The mail server for a message: the school's own once it works, or for its test; else that of the installation. */
async function serverFor(
  run: KeyedRun,
  { mailServer }: Sending,
  schoolId: string,
  kind: MessageKind,
): Promise<MailServer | null> {
  const own = await findMailServer(run, schoolId);
  return own && (own.isOn || kind === "test") ? { ...own, isSchools: true } : mailServer;
}

/** Of which of these students a reader may hear now: while in the circle and not muted; harm is heard of all the same. */
async function heardBy(
  scope: Scope<JobActor>,
  { kind, personId, studentId, about }: Message,
): Promise<Set<string>> {
  const students = [
    ...new Set([
      ...(studentId === null ? [] : [studentId]),
      ...(about.news ?? []).map((one) => one.studentId),
    ]),
  ];
  if (personId === null || students.length === 0) return new Set(students);
  const readers = await listStaffReaders(scope, students);
  return new Set(
    readers.flatMap((one) =>
      one.personId === personId && (!one.isMuted || kind === "harm") ? one.studentId : [],
    ),
  );
}

/** The first moment of the next day of the school. */
const tomorrow = ({ timeZone, today }: Scope): Date =>
  new Date(momentOfLocal(timeZone, `${dateOfDay(dayNumber(today) + 1)}T00:00`));

/** Why a message cannot go now, or ever; null where it can. */
async function stopped(
  scope: Scope<JobActor>,
  message: Message,
  reader: Reader | null,
  hears: ReadonlySet<string>,
): Promise<Became | null> {
  const { kind, studentId, personId, isUrgent } = message;
  if (reader === null) return { state: "cancelled", why: "gone" };
  // A link or code is asked for by its reader, and confirms the address it goes to.
  const obstacle = writingObstacle(
    isSecret(kind) ? { ...reader, hasAgreed: true, isConfirmed: true } : reader,
  );
  if (obstacle === "no access" || obstacle === "no consent")
    return { state: "cancelled", why: personId === null ? obstacle : "left" };
  if (obstacle !== null) return { state: "held", why: obstacle, nextAt: null };
  if (studentId !== null && !hears.has(studentId)) return { state: "cancelled", why: "not in the circle" };
  if (isUrgent) return null;
  const opens = sendableFrom(scope.now.getTime(), reader.hours, {
    ...{ timeZone: scope.timeZone, calendar: await readCalendar(scope) },
  });
  if (opens > scope.now.getTime()) return { state: "held", why: "quiet hours", nextAt: new Date(opens) };
  const { dailyLimit } = await readMessageSettings(scope);
  if (dailyLimit !== null) {
    const midnight = new Date(momentOfLocal(scope.timeZone, `${scope.today}T00:00`));
    if ((await countSentSince(scope, midnight)) >= dailyLimit)
      return { state: "held", why: "daily limit", nextAt: tomorrow(scope) };
  }
  return null;
}

/** The link or code of a message that carries one; null where it is no longer wanted. It is known here and now only. */
async function secretOf(
  run: KeyedRun,
  schoolId: string,
  { kind, about, guardianId }: Message,
): Promise<Secret | null> {
  if (kind === "code") {
    const code = guardianId === null ? null : await makeFamilyCode(run, schoolId, guardianId);
    return code === null ? null : { code };
  }
  if (!isSecret(kind)) return {};
  const link = about.ticketId
    ? await linkToMail(run, { ticketId: about.ticketId, origin: about.origin ?? "" })
    : null;
  return link && { link: link.url, lastDay: link.whom.lastDay };
}

/** A message whose try has begun. */
interface Begun {
  message: Message;
  to: string;
  composed: Composed;
}

/** Begins the next try for a reader; "waits" where there was one that cannot go now, null where nothing is due. */
async function begin(sending: Sending, schoolId: string, readerId: string): Promise<Begun | "waits" | null> {
  const { database, site, silentSeconds = 180 } = sending;
  return withScope(database, actorOf(schoolId), null, async (scope) => {
    writeIn(await readSchoolLocale(scope));
    const silent = await endSilent(scope, readerId, silentSeconds);
    if (silent > 0) mailed.inc({ outcome: "unknown" }, silent);
    const message = await lockNextMessage(scope, readerId);
    if (message === null) return null;
    const { kind, messageId } = message;
    const reader = await findReader(scope, message);
    const hears = await heardBy(scope, message);
    const stop = await stopped(scope, message, reader, hears);
    if (stop !== null || !reader?.email) {
      await noteBecame(scope, messageId, stop ?? { state: "held", why: "no address", nextAt: null });
      return "waits";
    }
    if ((await serverFor(scope.trx, sending, schoolId, kind)) === null) {
      const nextAt = new Date(scope.now.getTime() + 600_000);
      await noteBecame(scope, messageId, { state: "held", why: "no mail server", nextAt });
      return "waits";
    }
    const secret = await secretOf(scope.trx, schoolId, message);
    const composed =
      secret &&
      (await composeMessage(scope, message, reader, { site, hears, secret }).catch((error: unknown) => {
        log.error({ error: loggableError(error), kind }, "message not composed");
        return "broken" as const;
      }));
    if (composed === null || composed === "broken") {
      await noteBecame(scope, messageId, {
        ...(composed === null
          ? { state: "cancelled", why: "nothing left" }
          : { state: "refused", why: "template" }),
      });
      return "waits";
    }
    const { subject, body } = composed;
    await beginTry(scope, message, { to: reader.email, subject, body });
    return { message: { ...message, tries: message.tries + 1 }, to: reader.email, composed };
  });
}

/** What an outcome of a try means for its message. */
function becomes({ kind, tries, madeAt }: Message, outcome: Outcome, now: Date): Became {
  const { answer } = outcome;
  switch (outcome.kind) {
    case "sent":
      return { state: "sent", answer };
    case "unknown":
      return { state: "unknown", why: "no answer", answer };
    case "refused":
      return { state: "refused", why: outcome.isAddress ? "wrong address" : "refused", answer };
    case "deferred": {
      const wait = nextTryAfter(kind, tries, now.getTime() - madeAt.getTime());
      return wait === null
        ? { state: "given up", answer }
        : { state: "deferred", answer, nextAt: new Date(now.getTime() + wait) };
    }
  }
}

/** Tells who wrote to several, once, how many it reached: as soon as none is on its way any more. */
async function receiptOf(scope: Scope<JobActor>, batchId: string): Promise<void> {
  const done = await findDoneBatch(scope, batchId);
  if (done === null) return;
  await addMessages(scope, [
    {
      // The id is of the batch: told twice, it is one.
      messageId: idOf(batchId, receiptNames),
      ...{ kind: "receipt", reader: { personId: done.personId }, studentId: null },
      about: { receipt: "all sent", count: done.sent },
    },
  ]);
}

/** Notes what became of a try, and what follows for its address, its mail server and the record of the student. */
async function note(
  sending: Sending,
  schoolId: string,
  { message, to }: Begun,
  outcome: Outcome,
): Promise<void> {
  const { database } = sending;
  mailed.inc({ outcome: outcome.kind });
  const { kind, messageId, studentId, guardianId } = message;
  await withScope(database, actorOf(schoolId), null, async (scope) => {
    await noteBecame(scope, messageId, becomes(message, outcome, scope.now));
    if (outcome.kind === "refused" && outcome.isAddress) await noteWrongAddress(scope, to, outcome.answer);
    if (outcome.kind === "sent" && kind === "code" && guardianId !== null)
      await noteCodeMailed(scope.trx, { schoolId, guardianId, email: to });
    if (outcome.kind === "sent")
      await recordEvent(scope, { thing: "message", act: "sent", thingId: messageId, studentId });
    if (message.batchId !== null) await receiptOf(scope, message.batchId);
  });
  if (outcome.kind === "sent" && kind === "test") {
    const own = await findMailServer(database, schoolId);
    if (own) await noteMailServerWorks(database, schoolId, own);
  }
}

/** So many messages go to one reader in one job; the rest follows in the next. */
const mostAtOnce = 50;

/**
 * Sends what is due to a reader, one message after the other in their order. Before each try it is noted that it begins, and after it what became
 * of it: of a process that ends between the two nobody knows whether its message was sent, so that it is not sent again by itself.
 */
export async function deliverTo(sending: Sending, schoolId: string, readerId: string): Promise<void> {
  await withOwnLocale(async () => {
    for (let count = 0; count < mostAtOnce; count += 1) {
      const begun = await begin(sending, schoolId, readerId);
      if (begun === null) return;
      if (begun === "waits") continue;
      const { message, to, composed } = begun;
      const server = await serverFor(sending.database, sending, schoolId, message.kind);
      const outcome: Outcome =
        server === null
          ? { kind: "deferred", answer: "No mail server is set." }
          : await tryToSend(
              server,
              {
                ...{ id: message.messageId, to, subject: composed.subject, text: composed.text },
                ...{ html: composed.html, language: composed.language },
              },
              sending.patienceMs === undefined ? {} : { patienceMs: sending.patienceMs },
            );
      sending.beforeNoting?.();
      await note(sending, schoolId, begun, outcome);
    }
  });
}
