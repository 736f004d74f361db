import { type KeyedRun, keyIn } from "./app-key.ts";
import type { Database, Run } from "./connection.ts";
import { type PersonScope, requirePermission } from "../access/scope.ts";
import { localMoment } from "#core/dates/school-time.ts";
import type { SchoolLocale } from "#core/words/locale.ts";
import type { MailJob } from "../jobs/enqueue.ts";
import { enqueueJob } from "../jobs/enqueue.ts";
import { recordEvent } from "./events.ts";

/** What a link is for: it brings a person of a school an account, or an account another password. */
export type TicketPurpose = "invitation" | "reset";

/** For whom a ticket is. The school is null where the account's owner asked for a reset. Times are ISO 8601. */
export interface TicketFor {
  purpose: TicketPurpose;
  schoolName: string | null;
  locale: SchoolLocale | null;
  givenName: string | null;
  familyName: string | null;
  email: string;
  expiresAt: string;
  /** The last day the link is good, by the school's own date where it belongs to one: `YYYY-MM-DD`. */
  lastDay: string;
}

/** A ticket that a link has opened. */
export interface OpenTicket extends TicketFor {
  /** The account that has the ticket's e-mail already; null where it is still to be made. */
  accountId: string | null;
}

interface TicketRow {
  purpose: TicketPurpose;
  account_id: string | null;
  school_name: string | null;
  locale: SchoolLocale | null;
  time_zone: string | null;
  given_name: string | null;
  family_name: string | null;
  email: string;
  expires_at: Date;
}

const ticketFor = (row: Omit<TicketRow, "account_id">): TicketFor => ({
  ...{ purpose: row.purpose, schoolName: row.school_name, locale: row.locale, email: row.email },
  ...{ givenName: row.given_name, familyName: row.family_name, expiresAt: row.expires_at.toISOString() },
  lastDay: localMoment(row.time_zone ?? "UTC", row.expires_at.getTime()).slice(0, 10),
});

/** Adds a link to a ticket; null where the ticket is used, taken back or has run out. */
export async function addTicketLink(
  database: KeyedRun,
  ticketId: string,
  tokenHash: Buffer,
): Promise<TicketFor | null> {
  const { rows } = await database.raw<{ rows: TicketRow[] }>("select * from gate.add_ticket_link(?, ?, ?)", [
    keyIn(database),
    ticketId,
    tokenHash,
  ]);
  return rows[0] ? ticketFor(rows[0]) : null;
}

/** What a link opens; null where it is used, taken back or has run out. */
export async function findTicket(database: Run, tokenHash: Buffer): Promise<OpenTicket | null> {
  const { rows } = await database.raw<{ rows: TicketRow[] }>("select * from gate.ticket_of(?)", [tokenHash]);
  return rows[0] ? { ...ticketFor(rows[0]), accountId: rows[0].account_id } : null;
}

/**
 * Uses an invitation.
 *
 * @param account the account that the school is added to, whose password was shown to be known; or a new one with the hash of its password
 * @returns the school that was added; null where the link is no longer good, or the account or the person is in the school already
 */
export async function acceptInvitation(
  database: Run,
  tokenHash: Buffer,
  account: { accountId: string; newHash: string | null },
): Promise<{ schoolId: string; personId: string } | null> {
  const { rows } = await database.raw<{ rows: { school_id: string; person_id: string }[] }>(
    "select * from gate.accept_invitation(?, ?, ?)",
    [tokenHash, account.accountId, account.newHash],
  );
  return rows[0] ? { schoolId: rows[0].school_id, personId: rows[0].person_id } : null;
}

/** Uses a reset: sets the password's hash and ends every session. Answers with the account's e-mail; null where the link is no longer good. */
export async function resetByTicket(
  database: Run,
  tokenHash: Buffer,
  newHash: string,
): Promise<string | null> {
  const { rows } = await database.raw<{ rows: { email: string | null }[] }>(
    "select gate.use_reset(?, ?) as email",
    [tokenHash, newHash],
  );
  return rows[0]?.email ?? null;
}

/** Makes a reset for the account of an e-mail, to be mailed to it. Does nothing where no account has it. */
export async function askReset(
  database: Database,
  { email, ...mail }: { email: string } & MailJob,
): Promise<void> {
  await database.transaction(async (trx) => {
    const { rows } = await trx.raw<{ rows: { made: boolean }[] }>("select gate.ask_reset(?, ?) as made", [
      mail.ticketId,
      email,
    ]);
    if (rows[0]?.made) await enqueueJob(trx, { queue: "mail", data: mail });
  });
}

/** How a person of the school signs in. Times are ISO 8601. */
export interface AccountHere {
  personId: string;
  /** The address they sign in with; null without an account. */
  accountEmail: string | null;
  lastIn: string | null;
  invitedAt: string | null;
  /** Until when an invitation is good; in the past where it has run out. */
  invitedUntil: string | null;
  /** Until when a link to set another password is good. */
  resetUntil: string | null;
  /** Is the account used in another school too? Then no administrator sets its password. */
  isElsewhere: boolean;
  openSessions: number;
  /** Are they asked for a second step? */
  hasStep: boolean;
}

/** How the people of the school sign in, by their ids. */
export async function listAccountsHere(scope: PersonScope): Promise<Map<string, AccountHere>> {
  requirePermission(scope, "staff.edit");
  const { rows } = await scope.trx.raw<{
    rows: {
      person_id: string;
      account_email: string | null;
      last_in: Date | null;
      invited_at: Date | null;
      invited_until: Date | null;
      reset_until: Date | null;
      is_elsewhere: boolean;
      open_sessions: number;
      has_step: boolean;
    }[];
  }>("select * from gate.accounts_here()");
  const iso = (moment: Date | null) => moment?.toISOString() ?? null;
  return new Map(
    rows.map((row) => [
      row.person_id,
      {
        ...{ personId: row.person_id, accountEmail: row.account_email, lastIn: iso(row.last_in) },
        ...{ invitedAt: iso(row.invited_at), invitedUntil: iso(row.invited_until) },
        ...{ resetUntil: iso(row.reset_until), isElsewhere: row.is_elsewhere },
        ...{ openSessions: row.open_sessions, hasStep: row.has_step },
      },
    ]),
  );
}

/**
 * Makes an invitation for a person of the school, or a link with which they set another password; what was sent to them for it before is
 * good no longer.
 *
 * @param tokenHash of the link that is shown to the administrator
 * @param mail the job that mails another link to them; null where the server sends no mail
 * @returns for whom it is; null where the person cannot have one: no e-mail, left, has an account already, or has none
 */
export async function makeTicket(
  scope: PersonScope,
  purpose: TicketPurpose,
  personId: string,
  { tokenHash, mail, ticketId }: { tokenHash: Buffer; mail: MailJob | null; ticketId: string },
): Promise<TicketFor | null> {
  requirePermission(scope, "staff.edit");
  const made =
    purpose === "invitation"
      ? "select gate.invite(?, ?, ?) as made"
      : "select gate.reset_here(?, ?, ?) as made";
  const { rows } = await scope.trx.raw<{ rows: { made: boolean }[] }>(made, [
    ticketId,
    personId,
    scope.actor.personId,
  ]);
  if (!rows[0]?.made) return null;
  const whom = await addTicketLink(scope.trx, ticketId, tokenHash);
  const act = purpose === "invitation" ? "invited" : "reset link made";
  await recordEvent(
    scope,
    { thing: "person", act, thingId: personId, studentId: null },
    mail ? [{ queue: "mail", data: mail }] : [],
  );
  return whom;
}

/** Takes back the links of a person that are not used yet. Answers how many there were. */
export async function revokeTickets(scope: PersonScope, personId: string): Promise<number> {
  requirePermission(scope, "staff.edit");
  const { rows } = await scope.trx.raw<{ rows: { ended: number }[] }>(
    "select gate.revoke_tickets(?) as ended",
    [personId],
  );
  const ended = rows[0]?.ended ?? 0;
  if (ended > 0)
    await recordEvent(scope, {
      thing: "person",
      act: "links taken back",
      thingId: personId,
      studentId: null,
    });
  return ended;
}

/** A place where a person is signed in to this school. Times are ISO 8601. */
export interface SessionHere {
  sessionId: string;
  agent: string;
  openedAt: string;
  seenAt: string;
}

/** Where a person is signed in to this school, the last used first. */
export async function listSessionsHere(scope: PersonScope, personId: string): Promise<SessionHere[]> {
  requirePermission(scope, "staff.edit");
  const { rows } = await scope.trx.raw<{
    rows: { session_id: string; agent: string; opened_at: Date; seen_at: Date }[];
  }>("select * from gate.sessions_here(?)", [personId]);
  return rows.map((row) => ({
    ...{ sessionId: row.session_id, agent: row.agent },
    ...{ openedAt: row.opened_at.toISOString(), seenAt: row.seen_at.toISOString() },
  }));
}

/** Signs a person out of this school: in one place, or everywhere where none is named. Answers in how many. */
export async function endSessionsHere(
  scope: PersonScope,
  personId: string,
  sessionId: string | null,
): Promise<number> {
  requirePermission(scope, "staff.edit");
  const { rows } = await scope.trx.raw<{ rows: { ended: number }[] }>(
    "select gate.end_sessions_here(?, ?) as ended",
    [personId, sessionId],
  );
  const ended = rows[0]?.ended ?? 0;
  if (ended > 0)
    await recordEvent(scope, {
      thing: "person",
      act: "signed out there",
      thingId: personId,
      studentId: null,
    });
  return ended;
}

/** Takes the second step from a person who has lost authenticator and codes. False where there is none, or the account is used elsewhere too. */
export async function endSecondStepHere(scope: PersonScope, personId: string): Promise<boolean> {
  requirePermission(scope, "staff.edit");
  const { rows } = await scope.trx.raw<{ rows: { done: boolean }[] }>(
    "select gate.end_second_step_here(?) as done",
    [personId],
  );
  const done = rows[0]?.done ?? false;
  if (done)
    await recordEvent(scope, {
      thing: "person",
      act: "second step taken away",
      thingId: personId,
      studentId: null,
    });
  return done;
}

/** Whom a school asks for a second step at sign-in. */
export const secondStepFor = ["nobody", "administrators", "administrators and case managers"] as const;
/** One of these. */
export type SecondStepFor = (typeof secondStepFor)[number];

/** Whom this school asks for a second step. */
export async function readSecondStepFor({ trx, schoolId }: PersonScope): Promise<SecondStepFor> {
  const row = await trx<{ school_id: string; second_step_for: SecondStepFor }>("schools")
    .where({ school_id: schoolId })
    .first("second_step_for");
  return row?.second_step_for ?? "nobody";
}

/** Asks these for a second step from their next page on. */
export async function saveSecondStepFor(scope: PersonScope, second_step_for: SecondStepFor): Promise<void> {
  requirePermission(scope, "staff.edit");
  await scope.trx("schools").where({ school_id: scope.schoolId }).update({ second_step_for });
  await recordEvent(scope, { thing: "school", act: "changed", thingId: null, studentId: null });
}
