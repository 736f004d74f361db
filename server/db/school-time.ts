import type { Transaction } from "./connection.ts";

/** A moment in the school's own date and time, to the second: `YYYY-MM-DDTHH:MM:SS`. */
export async function schoolTimeOf(trx: Transaction, timeZone: string, at: Date): Promise<string> {
  const { rows } = await trx.raw<{ rows: { local: string }[] }>(
    `select to_char(?::timestamptz at time zone ?, 'YYYY-MM-DD"T"HH24:MI:SS') as local`,
    [at.toISOString(), timeZone],
  );
  return rows[0]?.local ?? "";
}
