import { type PersonScope, requirePermission } from "../access/scope.ts";
import { type KeyedRun, keyIn } from "./app-key.ts";
import type { Run } from "./connection.ts";
import { recordEvent } from "./events.ts";

/** The identity provider of a school as its administrators see it: without the secret. */
export interface OwnProvider {
  issuer: string;
  clientId: string;
  label: string;
  /** When a sign-in by it was tried with success, ISO 8601; null where what is set was never tried. */
  testedAt: string | null;
  isOn: boolean;
}

/** The identity provider of the school; null where none is set. */
export async function readOwnProvider(scope: PersonScope): Promise<OwnProvider | null> {
  requirePermission(scope, "staff.edit");
  const { rows } = await scope.trx.raw<{
    rows: { issuer: string; client_id: string; label: string; tested_at: Date | null; is_on: boolean }[];
  }>("select * from gate.provider_here()");
  const [row] = rows;
  return row
    ? {
        ...{ issuer: row.issuer, clientId: row.client_id, label: row.label, isOn: row.is_on },
        testedAt: row.tested_at?.toISOString() ?? null,
      }
    : null;
}

/** What an administrator sets of a provider; without a secret the one that is there stays. */
export interface ProviderContent {
  issuer: string;
  clientId: string;
  secret: string | null;
  label: string;
}

async function done(scope: PersonScope, call: string, values: (string | boolean | null)[]): Promise<boolean> {
  requirePermission(scope, "staff.edit");
  const { rows } = await scope.trx.raw<{ rows: { done: boolean }[] }>(`select gate.${call} as done`, values);
  if (!rows[0]?.done) return false;
  await recordEvent(scope, { thing: "provider", act: "changed", thingId: null, studentId: null });
  return true;
}

/** Sets the provider of the school; false where there is no secret yet. Another provider, client or secret has to be tried again. */
export const saveProvider = (scope: PersonScope, { issuer, clientId, secret, label }: ProviderContent) =>
  done(scope, "set_provider(?, ?, ?, ?)", [issuer, clientId, secret, label]);

/** Lets people sign in by the provider, or no longer; false where it was not tried with success. */
export const turnProvider = (scope: PersonScope, on: boolean): Promise<boolean> =>
  done(scope, "turn_provider(?)", [on]);

/** Removes the provider, and ends the sessions that were opened by it. */
export const removeProvider = (scope: PersonScope): Promise<boolean> => done(scope, "remove_provider()", []);

/** A school in which one can sign in by its provider. */
export interface OpenProvider {
  schoolId: string;
  schoolName: string;
  label: string;
}

/** The schools in which one can sign in by a provider. */
export async function listOpenProviders(database: Run): Promise<OpenProvider[]> {
  const { rows } = await database.raw<{
    rows: { school_id: string; school_name: string; label: string }[];
  }>("select * from gate.providers_on()");
  return rows.map((row) => ({ schoolId: row.school_id, schoolName: row.school_name, label: row.label }));
}

/** A provider with its secret. */
export interface Provider {
  issuer: string;
  clientId: string;
  secret: string;
  label: string;
  isOn: boolean;
}

/** The provider of a school, with its secret; null where none is set. */
export async function findProvider(database: KeyedRun, schoolId: string): Promise<Provider | null> {
  const { rows } = await database.raw<{
    rows: { issuer: string; client_id: string; client_secret: string; label: string; is_on: boolean }[];
  }>("select * from gate.provider_of(?, ?)", [keyIn(database), schoolId]);
  const [row] = rows;
  return row
    ? {
        ...{ issuer: row.issuer, clientId: row.client_id, secret: row.client_secret },
        ...{ label: row.label, isOn: row.is_on },
      }
    : null;
}

/** Notes that a sign-in by the provider of a school succeeded as it is set. */
export async function noteProviderTested(database: KeyedRun, schoolId: string): Promise<void> {
  await database.raw("select gate.note_provider_tested(?, ?)", [keyIn(database), schoolId]);
}

/** Whom a provider has named. */
export interface NamedByProvider {
  issuer: string;
  subject: string;
  email: string | null;
}

/** The account of whom a school's provider has named, in that school; null where they are neither there nor invited. */
export async function findByProvider(
  database: KeyedRun,
  schoolId: string,
  { issuer, subject, email }: NamedByProvider,
  fresh: { accountId: string; hash: string },
): Promise<{ accountId: string; personId: string; joined: boolean } | null> {
  const { rows } = await database.raw<{
    rows: { account_id: string; person_id: string; joined: boolean }[];
  }>("select * from gate.account_by_provider(?, ?, ?, ?, ?, ?, ?)", [
    ...[keyIn(database), schoolId, issuer, subject, email, fresh.accountId, fresh.hash],
  ]);
  const [row] = rows;
  return row ? { accountId: row.account_id, personId: row.person_id, joined: row.joined } : null;
}

/** Marks a session that was just opened as one of the school's provider. */
export async function noteByProvider(database: KeyedRun, tokenHash: Buffer): Promise<void> {
  await database.raw("select gate.note_by_provider(?, ?)", [keyIn(database), tokenHash]);
}

/** The school whose provider opened a session; null where a password did. */
export async function providerOfSession(database: Run, tokenHash: Buffer): Promise<string | null> {
  const { rows } = await database.raw<{ rows: { school: string | null }[] }>(
    "select gate.provider_session(?) as school",
    [tokenHash],
  );
  return rows[0]?.school ?? null;
}
