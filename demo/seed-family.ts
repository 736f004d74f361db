import { dateOfDay } from "#core/dates/day-number.ts";
import { hashToken } from "#server/auth/session.ts";
import type { Transaction } from "#server/db/connection.ts";
import { demoFamilyLink, guardians } from "./school.ts";

/**
 * Guardians of the demo's story: one who signs in with an account, one with a link in Spanish, and one without access. What was released to
 * them is the latest entries of their students, and the family's edition is on their page.
 */
export async function seedFamily(
  trx: Transaction,
  {
    schoolId,
    noorId,
    passwordHash,
    studentOf,
    firstDay,
    day,
    newId,
  }: {
    schoolId: string;
    noorId: string;
    passwordHash: string;
    studentOf: (given: string) => string;
    /** The day number of the story's first day. */
    firstDay: number;
    /** The last school day of the story. */
    day: number;
    newId: (day: number) => string;
  },
): Promise<void> {
  const today = dateOfDay(firstDay + day);
  const at = new Date(`${today}T23:00:00Z`);
  const told = new Set<string>();
  for (const { given, way, mail, noAccess = null, ...guardian } of guardians) {
    const [student_id, guardian_id] = [studentOf(given), newId(day)];
    await trx("guardians").insert({
      ...{ school_id: schoolId, guardian_id, student_id, ...guardian, person_id: noorId },
      ...{ made_at: at, no_access_reason: noAccess, mail_agreed_on: mail ? dateOfDay(firstDay) : null },
      confirmed_email: mail === "confirmed" ? guardian.email : null,
    });
    if (way === "account") {
      const account_id = newId(day);
      const email = guardian.email;
      await trx("gate.accounts").insert({ account_id, email, password_hash: passwordHash });
      await trx("gate.family_accounts").insert({ account_id, school_id: schoolId, guardian_id });
    }
    if (way === "link")
      await trx("gate.family_links").insert({
        ...{ link_id: newId(day), token_hash: hashToken(demoFamilyLink), school_id: schoolId, guardian_id },
        expires_at: trx.raw("now() + interval '120 days'"),
      });
    if (told.has(student_id) || noAccess !== null) continue;
    told.add(student_id);
    const entries: { entry_id: string }[] = await trx("entries")
      .where({ school_id: schoolId, student_id, state: "kept" })
      .orderBy("observed_at", "desc")
      .limit(4);
    for (const { entry_id } of entries)
      await trx("releases").insert({
        ...{ school_id: schoolId, student_id, thing: "entry", thing_id: entry_id, person_id: noorId, at },
      });
    if (way === null) continue;
    const edition: { edition_id: string } | undefined = await trx("editions")
      .where({ school_id: schoolId, student_id, audience: "family" })
      .first("edition_id");
    if (edition)
      await trx("edition_shares").insert({
        ...{ school_id: schoolId, share_id: newId(day), edition_id: edition.edition_id },
        ...{ how: "family page", shared_on: today, person_id: noorId, at },
      });
  }
}
