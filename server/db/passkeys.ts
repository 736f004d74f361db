import type { Database } from "./connection.ts";

/** A passkey as its owner sees it. Times are ISO 8601. */
export interface OwnPasskey {
  credentialId: string;
  transports: string[];
  name: string;
  madeAt: string;
  usedAt: string | null;
}

/** The public half of a passkey. */
export interface StoredPasskey {
  accountId: string;
  publicKey: Buffer;
  counter: number;
  transports: string[];
}

/** The passkeys of the account behind a session, or behind a sign-in that is half done. */
export async function listPasskeys(database: Database, tokenHash: Buffer): Promise<OwnPasskey[]> {
  const { rows } = await database.raw<{
    rows: {
      credential_id: string;
      transports: string[];
      name: string;
      made_at: Date;
      used_at: Date | null;
    }[];
  }>("select * from gate.passkeys_at(?)", [tokenHash]);
  return rows.map((row) => ({
    ...{ credentialId: row.credential_id, transports: row.transports, name: row.name },
    ...{ madeAt: row.made_at.toISOString(), usedAt: row.used_at?.toISOString() ?? null },
  }));
}

async function done(database: Database, call: string, values: (string | number | Buffer | string[])[]) {
  const { rows } = await database.raw<{ rows: { done: boolean }[] }>(`select ${call} as done`, values);
  return rows[0]?.done ?? false;
}

/** Adds a passkey to the account behind a session; false where it is somebody's already, or the session is over. */
export const insertPasskey = (
  database: Database,
  tokenHash: Buffer,
  key: Omit<StoredPasskey, "accountId"> & { credentialId: string; name: string },
): Promise<boolean> =>
  done(database, "gate.add_passkey(?, ?, ?, ?, ?, ?)", [
    ...[tokenHash, key.credentialId, key.publicKey, key.counter, key.transports, key.name],
  ]);

/** Removes a passkey of the account behind a session. */
export const deletePasskey = (
  database: Database,
  tokenHash: Buffer,
  credentialId: string,
): Promise<boolean> => done(database, "gate.remove_passkey(?, ?)", [tokenHash, credentialId]);

/** The public half of a passkey; null where there is none of this id. */
export async function findPasskey(database: Database, credentialId: string): Promise<StoredPasskey | null> {
  const { rows } = await database.raw<{
    rows: { account_id: string; public_key: Buffer; counter: string; transports: string[] }[];
  }>("select * from gate.passkey(?)", [credentialId]);
  const [row] = rows;
  return row
    ? {
        ...{ accountId: row.account_id, publicKey: row.public_key, transports: row.transports },
        counter: Number(row.counter),
      }
    : null;
}

/** Notes the use of a passkey; false where its counter does not grow, which a copied key shows. */
export const notePasskeyUse = (database: Database, credentialId: string, counter: number): Promise<boolean> =>
  done(database, "gate.use_passkey(?, ?)", [credentialId, counter]);

/** Keeps what an authenticator was asked to sign, for five minutes. */
export async function setChallenge(database: Database, tokenHash: Buffer, challenge: string): Promise<void> {
  await database.raw("select gate.set_challenge(?, ?)", [tokenHash, challenge]);
}

/** What an authenticator was asked to sign: once. Null where that is over. */
export async function takeChallenge(database: Database, tokenHash: Buffer): Promise<string | null> {
  const { rows } = await database.raw<{ rows: { challenge: string | null }[] }>(
    "select gate.take_challenge(?) as challenge",
    [tokenHash],
  );
  return rows[0]?.challenge ?? null;
}
