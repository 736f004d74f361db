import { familyPageWords } from "#core/words/family-page.ts";
import { makeFamilyCode } from "../auth/family.ts";
import type { Database } from "../db/connection.ts";
import { findGuardianToMail } from "../db/family-access.ts";
import type { FamilyCodeJob } from "../jobs/enqueue.ts";
import type { Mailer } from "./mailer.ts";

/** Mails a guardian the code that opens their link, in their language. It names no student. */
export async function mailFamilyCode(
  database: Database,
  mailer: Mailer,
  { schoolId, guardianId }: FamilyCodeJob,
): Promise<void> {
  const guardian = await findGuardianToMail(database, schoolId, guardianId);
  if (!guardian?.email) return;
  const code = await makeFamilyCode(database, schoolId, guardianId);
  if (code === null) return;
  const words = familyPageWords[guardian.language];
  await mailer.send({
    id: `${guardianId}-${Date.now()}`,
    to: guardian.email,
    subject: words.codeSubject(guardian.schoolName),
    text: words.codeMail(code, guardian.schoolName),
  });
}
