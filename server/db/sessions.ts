import type { SchoolLocale } from "#core/words/locale.ts";
import { log, loggableError } from "../failure.ts";
import { keyIn } from "./app-key.ts";
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
  schools: number;
  is_district: boolean;
  misses_step: boolean;
  trail_over: boolean;
}

/** The person behind a session token's hash; null when the session is over in any way. `touch`: does asking count as use? */
export async function findSession(
  database: Database,
  tokenHash: Buffer,
  touch: boolean,
): Promise<PersonActor | null> {
  const { rows } = await database.raw<{ rows: SessionRow[] }>("select * from gate.person_here(?, ?)", [
    tokenHash,
    touch,
  ]);
  const row = rows[0];
  return row
    ? {
        kind: "person",
        session: tokenHash,
        schoolId: row.school_id,
        personId: row.person_id,
        role: row.role,
        caseManager: row.case_manager,
        givenName: row.given_name,
        familyName: row.family_name,
        schoolName: row.school_name,
        timeZone: row.time_zone,
        locale: row.locale,
        schools: row.schools,
        isDistrict: row.is_district,
        missesStep: row.misses_step,
        trailOver: row.trail_over,
      }
    : null;
}

export interface Credentials {
  account_id: string;
  password_hash: string;
}

/** The account of an e-mail, with the hash of its password; null where there is none. */
export async function findCredentials(database: Database, email: string): Promise<Credentials | null> {
  const { rows } = await database.raw<{ rows: Credentials[] }>("select * from gate.account_by_email(?, ?)", [
    keyIn(database),
    email,
  ]);
  return rows[0] ?? null;
}

/** A school that an account is in today, and who it is there. */
export interface SchoolOfAccount {
  schoolId: string;
  personId: string;
  name: string;
  position: string;
  role: PersonActor["role"];
}

/** The schools an account is in today, the one used last first. */
export async function listSchoolsOf(database: Database, accountId: string): Promise<SchoolOfAccount[]> {
  const { rows } = await database.raw<{
    rows: {
      school_id: string;
      person_id: string;
      school_name: string;
      position_name: string;
      role: PersonActor["role"];
    }[];
  }>("select * from gate.schools_of(?)", [accountId]);
  return rows.map((row) => ({
    ...{ schoolId: row.school_id, personId: row.person_id, name: row.school_name },
    ...{ position: row.position_name, role: row.role },
  }));
}

/** Opens a session in another school of the same account in place of one; false where the account is not in that school today. */
export async function replaceBySchool(
  database: Database,
  tokenHash: Buffer,
  nextHash: Buffer,
  schoolId: string,
): Promise<boolean> {
  const { rows } = await database.raw<{ rows: { done: boolean }[] }>(
    "select gate.switch_school(?, ?, ?) as done",
    [tokenHash, nextHash, schoolId],
  );
  return rows[0]?.done ?? false;
}

/** Has the account of an e-mail signed in on this device? */
export async function isKnownDevice(database: Database, email: string, deviceHash: Buffer): Promise<boolean> {
  const { rows } = await database.raw<{ rows: { known: boolean }[] }>(
    "select gate.is_known_device(?, ?) as known",
    [email, deviceHash],
  );
  return rows[0]?.known ?? false;
}

/** Notes the device of a session that was just opened. */
export async function knowDevice(database: Database, tokenHash: Buffer, deviceHash: Buffer): Promise<void> {
  await database.raw("select gate.know_device(?, ?)", [tokenHash, deviceHash]);
}

/** Forgets the devices of the account behind a session, but for one. */
export async function forgetOtherDevices(
  database: Database,
  tokenHash: Buffer,
  deviceHash: Buffer | null,
): Promise<void> {
  await database.raw("select gate.forget_other_devices(?, ?)", [tokenHash, deviceHash]);
}

/** A school of this installation, as the district's page lists it. */
export interface DistrictSchool {
  schoolId: string;
  name: string;
  /** When it was made, ISO 8601. */
  madeAt: string;
  /** How many people work there. */
  people: number;
  administrators: { name: string; email: string | null }[];
}

/** May the account behind a session see the schools of this installation? */
export async function isDistrictSession(database: Database, tokenHash: Buffer): Promise<boolean> {
  const { rows } = await database.raw<{ rows: { is: boolean }[] }>("select gate.is_district(?) as is", [
    tokenHash,
  ]);
  return rows[0]?.is ?? false;
}

/** The schools of this installation with their administrators, for a session whose account may see them. */
export async function listDistrictSchools(database: Database, tokenHash: Buffer): Promise<DistrictSchool[]> {
  const { rows } = await database.raw<{
    rows: {
      school_id: string;
      school_name: string;
      made_at: Date;
      people: number;
      administrators: DistrictSchool["administrators"];
    }[];
  }>("select * from gate.district_schools(?)", [tokenHash]);
  return rows.map((row) => ({
    ...{ schoolId: row.school_id, name: row.school_name, madeAt: row.made_at.toISOString() },
    ...{ people: row.people, administrators: row.administrators },
  }));
}

/** Opens a session; the one it replaces is ended in the same statement. */
export async function insertSession(
  database: Database,
  tokenHash: Buffer,
  { account_id, school_id, person_id }: { account_id: string; school_id: string; person_id: string },
  replacedHash: Buffer | null,
): Promise<void> {
  await database.raw("select gate.open_session(?, ?, ?, ?, ?, ?)", [
    keyIn(database),
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

/** A second step at sign-in, as the account of a session or of a half sign-in has it. */
export interface SecondStep {
  accountId: string;
  email: string;
  /** In base 32; null where none was begun. */
  secret: string | null;
  isConfirmed: boolean;
  codesLeft: number;
}

/** The second step of the account behind a token's hash; null where the token is good no longer. */
export async function findSecondStep(database: Database, tokenHash: Buffer): Promise<SecondStep | null> {
  const { rows } = await database.raw<{
    rows: {
      account_id: string;
      email: string;
      secret: string | null;
      is_confirmed: boolean;
      codes_left: number;
    }[];
  }>("select * from gate.second_step_at(?)", [tokenHash]);
  const [row] = rows;
  return row
    ? {
        ...{ accountId: row.account_id, email: row.email, secret: row.secret },
        ...{ isConfirmed: row.is_confirmed, codesLeft: row.codes_left },
      }
    : null;
}

/**
 * Writes down in the schools of an account that it was not let in: once an hour and kind. Not waited for, since an account that is not there
 * would answer sooner.
 *
 * @param what what was wrong
 */
export function noteFailedSignIn(
  database: Database,
  accountId: string,
  what: "password" | "second step" | "passkey",
): void {
  void database
    .raw("select gate.note_failed(?, ?, ?)", [keyIn(database), accountId, what])
    .catch((error: unknown) => log.error({ error: loggableError(error) }, "failed sign-in not noted"));
}

/** Asks one of the gate's functions that answer yes or no. */
async function gateSays(database: Database, call: string, values: (string | number | Buffer | Buffer[])[]) {
  const { rows } = await database.raw<{ rows: { done: boolean | null }[] }>(`select ${call} as done`, values);
  return rows[0]?.done ?? false;
}

/** Is an account asked for a second step? */
export const hasSecondStep = (database: Database, accountId: string): Promise<boolean> =>
  gateSays(database, "gate.has_second_step(?)", [accountId]);

/** Notes that an account has shown its password and not its second step: good for ten minutes. */
export async function openHalfSignIn(
  database: Database,
  tokenHash: Buffer,
  accountId: string,
): Promise<void> {
  await database.raw("select gate.open_half(?, ?, ?)", [keyIn(database), tokenHash, accountId]);
}

/** Ends a half sign-in. */
export async function closeHalfSignIn(database: Database, tokenHash: Buffer): Promise<void> {
  await database.raw("select gate.close_half(?)", [tokenHash]);
}

/** Begins a second step for the account behind a session; one that is confirmed stays as it is. */
export async function beginSecondStep(database: Database, tokenHash: Buffer, secret: string): Promise<void> {
  await database.raw("select gate.begin_second_step(?, ?)", [tokenHash, secret]);
}

/** From now on the second step is asked for, and these are its recovery codes. False where this half minute's code was used before. */
export const confirmSecondStep = (
  database: Database,
  tokenHash: Buffer,
  counter: number,
  codeHashes: Buffer[],
): Promise<boolean> =>
  gateSays(database, "gate.confirm_second_step(?, ?, ?)", [tokenHash, counter, codeHashes]);

/** Uses the code of a half minute; false where it, or a later one, was used before. */
export const spendCounter = (database: Database, tokenHash: Buffer, counter: number): Promise<boolean> =>
  gateSays(database, "gate.use_counter(?, ?)", [tokenHash, counter]);

/** Uses a recovery code; false where there is no such code or it was used before. */
export const spendRecoveryCode = (
  database: Database,
  tokenHash: Buffer,
  codeHash: Buffer,
): Promise<boolean> => gateSays(database, "gate.use_recovery_code(?, ?)", [tokenHash, codeHash]);

/** Ends the second step of the account behind a session. */
export async function endSecondStep(database: Database, tokenHash: Buffer): Promise<void> {
  await database.raw("select gate.end_second_step(?)", [tokenHash]);
}

/** Is this the code that was printed where the server was started? */
export const isSetUpCode = (database: Database, codeHash: Buffer): Promise<boolean> =>
  gateSays(database, "gate.is_set_up_code(?)", [codeHash]);

export interface FirstSchool {
  /** The hash of the code that was printed. */
  codeHash: Buffer;
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

/** Makes the school and its first account; false when a school is there already, or the code is another. */
export async function makeFirstSchool(database: Database, first: FirstSchool): Promise<boolean> {
  const { rows } = await database.raw<{ rows: { made: boolean }[] }>(
    "select gate.make_first_school(?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?) as made",
    [
      first.codeHash,
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
