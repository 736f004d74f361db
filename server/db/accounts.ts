import { v7 as newId } from "uuid";
import type { SchoolLocale } from "#core/words/locale.ts";
import { hashSetUpCode, newSetUpCode } from "../auth/second-step.ts";
import { hashToken, newToken } from "../auth/session.ts";
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
    // A person signs in with one account: where they had another address, that one no longer leads here.
    await trx("gate.memberships")
      .whereIn(
        ["school_id", "person_id"],
        people.map(({ school_id, person_id }) => [school_id, person_id]),
      )
      .whereNot({ account_id: owned })
      .delete();
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

/**
 * As the tables' owner: makes the code that the first person of an installation has to know, in place of the one before.
 *
 * @returns null where there is a school already: then nobody is first any more
 */
export async function makeSetUpCode(owner: Database): Promise<string | null> {
  if (await owner("schools").first("school_id")) return null;
  const code = newSetUpCode();
  const row = { only_row: true, code_hash: hashSetUpCode(code), made_at: new Date() };
  await owner("gate.set_up").insert(row).onConflict("only_row").merge();
  return code;
}

/** A school that an operator makes beside others, with the person who runs it. */
export interface NewSchool {
  name: string;
  timeZone: string;
  locale: SchoolLocale;
  givenName: string;
  familyName: string;
  email: string;
}

/**
 * As the tables' owner: makes a school and its administrator, who is invited.
 *
 * @returns the secret of the invitation's link, good for seven days
 */
export function makeSchool(owner: Database, school: NewSchool): Promise<string> {
  return owner.transaction(async (trx) => {
    const [school_id, person_id, ticket_id, token] = [newId(), newId(), newId(), newToken()];
    const {
      name,
      timeZone: time_zone,
      locale,
      givenName: given_name,
      familyName: family_name,
      email,
    } = school;
    await trx("schools").insert({ school_id, name, time_zone, locale });
    await trx("people").insert({
      ...{ school_id, person_id, given_name, family_name, email, role: "administrator", case_manager: false },
    });
    const expires_at = trx.raw("now() + interval '7 days'");
    await trx("gate.tickets").insert({ ticket_id, purpose: "invitation", school_id, person_id, expires_at });
    await trx("gate.ticket_links").insert({ token_hash: hashToken(token), ticket_id });
    return token;
  });
}

/** As the tables' owner: lets an account see the schools of the installation, or no longer. False where no account has the e-mail. */
export async function setDistrictPerson(owner: Database, email: string, isOne: boolean): Promise<boolean> {
  const [account] = await owner<{ account_id: string; email: string }>("gate.accounts")
    .where({ email })
    .select("account_id");
  if (!account) return false;
  const row = { account_id: account.account_id };
  if (isOne) await owner("gate.district_people").insert(row).onConflict().ignore();
  else await owner("gate.district_people").where(row).delete();
  return true;
}
