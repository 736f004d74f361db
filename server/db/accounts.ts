import { v7 as newId } from "uuid";
import type { Database } from "./connection.ts";

/** As the tables' owner: gives a person of the school an account, or a new password and the end of all sessions. */
export function setAccount(
  owner: Database,
  email: string,
  passwordHash: string,
): Promise<"made" | "changed" | null> {
  return owner.transaction(async (trx) => {
    const people = await trx<{ school_id: string; person_id: string; email: string }>("people")
      .where({ email })
      .select("school_id", "person_id");
    if (people.length === 0) return null;
    const account_id = newId();
    const [account] = await trx("gate.accounts")
      .insert({ account_id, email, password_hash: passwordHash })
      .onConflict("email")
      .merge({ password_hash: passwordHash })
      .returning<{ account_id: string }[]>("account_id");
    const owned = account?.account_id ?? account_id;
    await trx("gate.memberships")
      .insert(people.map(({ school_id, person_id }) => ({ account_id: owned, school_id, person_id })))
      .onConflict()
      .ignore();
    await trx("gate.sessions")
      .where({ account_id: owned })
      .whereNull("ended_at")
      .update({ ended_at: trx.fn.now() });
    return owned === account_id ? "made" : "changed";
  });
}
