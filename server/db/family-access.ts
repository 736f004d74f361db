import type { Language } from "#core/words/en.ts";
import type { SchoolLocale } from "#core/words/locale.ts";
import type { LinkActor } from "../access/actor.ts";
import type { Scope } from "../access/scope.ts";
import { type KeyedRun, keyIn } from "./app-key.ts";
import type { Database, Run } from "./connection.ts";
import { withScope } from "./school.ts";

/** What a link shows before its code was given. */
export interface FamilyLink {
  schoolId: string;
  guardianId: string;
  /** Where a code is sent; null where the guardian has no address. */
  email: string | null;
  language: Language;
  schoolName: string;
}

/** A guardian who is signed in, for one student. */
export interface Guardianship extends FamilyLink {
  studentId: string;
  guardianName: string;
  timeZone: string;
  locale: SchoolLocale;
  /** Did they sign in with an account? */
  hasAccount: boolean;
  /** The hash of the token of their session. */
  session: Buffer;
}

interface LinkRow {
  school_id: string;
  guardian_id: string;
  email: string | null;
  language: Language;
  school_name: string;
}

const toLink = (row: LinkRow): FamilyLink => ({
  ...{ schoolId: row.school_id, guardianId: row.guardian_id, email: row.email, language: row.language },
  schoolName: row.school_name,
});

async function said(database: Run, call: string, values: (string | null | Buffer)[]): Promise<boolean> {
  const { rows } = await database.raw<{ rows: { done: boolean }[] }>(`select ${call} as done`, values);
  return rows[0]?.done ?? false;
}

/** What a link is for; null where it is good no longer. */
export async function findFamilyLink(database: Run, tokenHash: Buffer): Promise<FamilyLink | null> {
  const { rows } = await database.raw<{ rows: LinkRow[] }>("select * from gate.family_link(?)", [tokenHash]);
  return rows[0] ? toLink(rows[0]) : null;
}

/** Sets the one code of a guardian, in place of the one before; false where the guardian may not read. */
export const setFamilyCode = (
  database: KeyedRun,
  schoolId: string,
  guardianId: string,
  codeHash: Buffer,
): Promise<boolean> =>
  said(database, "gate.set_family_code(?, ?, ?, ?)", [keyIn(database), schoolId, guardianId, codeHash]);

/** Opens a family session with a link and its code; false where either is not good now. */
export const openFamilyByCode = (
  database: Run,
  linkHash: Buffer,
  codeHash: Buffer,
  tokenHash: Buffer,
): Promise<boolean> => said(database, "gate.open_family(?, ?, ?)", [linkHash, codeHash, tokenHash]);

/** Writes down that a wrong code was given for a guardian's link: once an hour. */
export async function noteFailedCode(
  database: KeyedRun,
  { schoolId, guardianId }: FamilyLink,
): Promise<void> {
  await database.raw("select gate.note_code_failed(?, ?, ?)", [keyIn(database), schoolId, guardianId]);
}

/** Opens a family session for an account; false where it is tied to no student now. */
export const openFamilyAccount = (
  database: KeyedRun,
  accountId: string,
  tokenHash: Buffer,
): Promise<boolean> =>
  said(database, "gate.open_family_account(?, ?, ?)", [keyIn(database), accountId, tokenHash]);

/** Ends a family session. */
export async function closeFamily(database: Run, tokenHash: Buffer): Promise<void> {
  await database.raw("select gate.close_family(?)", [tokenHash]);
}

/** Of whom a family session may read now. */
export async function findFamily(database: Run, tokenHash: Buffer): Promise<Guardianship[]> {
  const { rows } = await database.raw<{
    rows: (LinkRow & {
      student_id: string;
      guardian_name: string;
      time_zone: string;
      locale: SchoolLocale;
      has_account: boolean;
    })[];
  }>("select * from gate.family_of(?)", [tokenHash]);
  return rows.map((row) => ({
    ...{ ...toLink(row), studentId: row.student_id, guardianName: row.guardian_name },
    ...{ timeZone: row.time_zone, locale: row.locale, hasAccount: row.has_account, session: tokenHash },
  }));
}

/** Ties the guardian of a family session to an account: to a new one with the hash of its password, or to one that is there. */
export const keepFamilyAs = (
  database: Run,
  tokenHash: Buffer,
  { accountId, newHash }: { accountId: string; newHash: string | null },
): Promise<boolean> => said(database, "gate.keep_family(?, ?, ?)", [tokenHash, accountId, newHash]);

/** Where and in which language a guardian is written to; null where they may not read. */
export async function findGuardianToMail(
  database: Run,
  schoolId: string,
  guardianId: string,
): Promise<FamilyLink | null> {
  const { rows } = await database.raw<{ rows: LinkRow[] }>("select * from gate.guardian_now(?, ?)", [
    schoolId,
    guardianId,
  ]);
  return rows[0] ? toLink(rows[0]) : null;
}

/** Is the account behind a session tied to a student as family? */
export const isFamilySession = (database: Run, tokenHash: Buffer): Promise<boolean> =>
  said(database, "gate.is_family(?)", [tokenHash]);

/** What a family calls the students of its session: given names, with their schools. */
export async function listStudentNames(
  database: Database,
  all: readonly Guardianship[],
): Promise<{ guardianId: string; name: string; schoolName: string }[]> {
  const named = [];
  for (const one of all) {
    const name = await withScope(database, guardianActor(one), one.studentId, (scope) =>
      findCalledName(scope, one.studentId),
    );
    named.push({ guardianId: one.guardianId, name, schoolName: one.schoolName });
  }
  return named;
}

/** The name by which a student is called. */
export async function findCalledName({ trx, schoolId }: Scope, studentId: string): Promise<string> {
  const row = await trx("students")
    .where({ school_id: schoolId, student_id: studentId })
    .first("given_name", "preferred_name");
  return row?.preferred_name ?? row?.given_name ?? "";
}

/** The actor that a guardian is in the report of their student. */
export const guardianActor = ({ session, schoolId, guardianId, studentId }: Guardianship): LinkActor => ({
  ...{ kind: "link", session, schoolId, studentId },
  linkId: guardianId,
});
