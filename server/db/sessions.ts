import type { SchoolLocale } from "#core/words/locale.ts";
import type { Database } from "./connection.ts";
import type { PersonActor } from "../access/actor.ts";

interface SessionRow {
  school_id: string;
  person_id: string;
  role: PersonActor["role"];
  case_manager: boolean;
  given_name: string;
  family_name: string;
  school_name: string;
  time_zone: string;
  locale: SchoolLocale;
}

/** The person behind a session token's hash; null when the session is over in any way. `touch`: does asking count as use? */
export async function findSession(
  database: Database,
  tokenHash: Buffer,
  touch: boolean,
): Promise<PersonActor | null> {
  const { rows } = await database.raw<{ rows: SessionRow[] }>("select * from gate.person_of(?, ?)", [
    tokenHash,
    touch,
  ]);
  const row = rows[0];
  return row
    ? {
        kind: "person",
        schoolId: row.school_id,
        personId: row.person_id,
        role: row.role,
        caseManager: row.case_manager,
        givenName: row.given_name,
        familyName: row.family_name,
        schoolName: row.school_name,
        timeZone: row.time_zone,
        locale: row.locale,
      }
    : null;
}

export interface Credentials {
  account_id: string;
  password_hash: string;
  school_id: string;
  person_id: string;
}

/** The account of an e-mail, with the hash of its password; null where there is none. */
export async function findCredentials(database: Database, email: string): Promise<Credentials | null> {
  const { rows } = await database.raw<{ rows: Credentials[] }>("select * from gate.credentials_of(?)", [
    email,
  ]);
  return rows[0] ?? null;
}

/** Opens a session; the one it replaces is ended in the same statement. */
export async function insertSession(
  database: Database,
  tokenHash: Buffer,
  { account_id, school_id, person_id }: Omit<Credentials, "password_hash">,
  replacedHash: Buffer | null,
): Promise<void> {
  await database.raw("select gate.open_session(?, ?, ?, ?, ?)", [
    tokenHash,
    account_id,
    school_id,
    person_id,
    replacedHash,
  ]);
}

/** Ends the session of a token's hash. */
export async function endSession(database: Database, tokenHash: Buffer): Promise<void> {
  await database.raw("select gate.close_session(?)", [tokenHash]);
}

/** The account behind a session that is open. */
export interface OwnAccount {
  account_id: string;
  email: string;
  password_hash: string;
}

/** The account of a session's token hash; null where the session is over. */
export async function findOwnAccount(database: Database, tokenHash: Buffer): Promise<OwnAccount | null> {
  const { rows } = await database.raw<{ rows: OwnAccount[] }>("select * from gate.account_of(?)", [
    tokenHash,
  ]);
  return rows[0] ?? null;
}

/** Sets a password hash in place of one that is known; false where that one is no longer there. */
export async function replaceHash(
  database: Database,
  accountId: string,
  old: string,
  next: string,
): Promise<boolean> {
  const { rows } = await database.raw<{ rows: { done: boolean }[] }>(
    "select gate.replace_hash(?, ?, ?) as done",
    [accountId, old, next],
  );
  return rows[0]?.done ?? false;
}

/** Notes on what a session was opened. */
export async function noteAgent(database: Database, tokenHash: Buffer, agent: string): Promise<void> {
  await database.raw("select gate.note_agent(?, ?)", [tokenHash, agent]);
}

/** A place where an account is signed in. Times are ISO 8601. */
export interface OwnSession {
  sessionId: string;
  agent: string;
  openedAt: string;
  seenAt: string;
  isThis: boolean;
}

/** Where the account behind a session is signed in, the last used first. */
export async function listOwnSessions(database: Database, tokenHash: Buffer): Promise<OwnSession[]> {
  const { rows } = await database.raw<{
    rows: { session_id: string; agent: string; opened_at: Date; seen_at: Date; is_this: boolean }[];
  }>("select * from gate.sessions_of(?)", [tokenHash]);
  return rows.map((row) => ({
    ...{ sessionId: row.session_id, agent: row.agent, isThis: row.is_this },
    ...{ openedAt: row.opened_at.toISOString(), seenAt: row.seen_at.toISOString() },
  }));
}

/** Ends another session of the same account, or all others; answers how many. */
export async function endOtherSessions(
  database: Database,
  tokenHash: Buffer,
  sessionId: string | null,
): Promise<number> {
  const { rows } = await database.raw<{ rows: { ended: number }[] }>(
    "select gate.end_other_sessions(?, ?) as ended",
    [tokenHash, sessionId],
  );
  return rows[0]?.ended ?? 0;
}

/** Is there a school in this database yet? */
export async function anySchool(database: Database): Promise<boolean> {
  const { rows } = await database.raw<{ rows: { any_school: boolean }[] }>("select gate.any_school()");
  return rows[0]?.any_school ?? false;
}

/** The schools of this database, for the jobs that each of them has. */
export async function listSchoolIds(database: Database): Promise<string[]> {
  const { rows } = await database.raw<{ rows: { id: string }[] }>("select id from gate.school_ids() id");
  return rows.map(({ id }) => id);
}

export interface FirstSchool {
  schoolId: string;
  name: string;
  timeZone: string;
  locale: SchoolLocale;
  personId: string;
  givenName: string;
  familyName: string;
  /** Does this person carry a caseload? */
  caseManager: boolean;
  accountId: string;
  email: string;
  passwordHash: string;
}

/** Makes the school and its first account; false when a school is there already. */
export async function makeFirstSchool(database: Database, first: FirstSchool): Promise<boolean> {
  const { rows } = await database.raw<{ rows: { made: boolean }[] }>(
    "select gate.make_first_school(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) as made",
    [
      first.schoolId,
      first.name,
      first.timeZone,
      first.locale,
      first.personId,
      first.givenName,
      first.familyName,
      first.caseManager,
      first.accountId,
      first.email,
      first.passwordHash,
    ],
  );
  return rows[0]?.made ?? false;
}
