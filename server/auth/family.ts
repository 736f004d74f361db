import { randomInt } from "node:crypto";
import type { KeyedRun } from "../db/app-key.ts";
import type { Database } from "../db/connection.ts";
import {
  closeFamily,
  type FamilyLink,
  findFamily,
  findFamilyLink,
  type Guardianship,
  keepFamilyAs,
  noteFailedCode,
  openFamilyByCode,
  setFamilyCode,
} from "../db/family-access.ts";
import { noteSecurity } from "../failure.ts";
import { enqueueJob } from "../jobs/enqueue.ts";
import { isSlowDown, limitedFamilyCode, mayAsk, type Tried } from "./rate-limit.ts";
import { familyCookieToken, hashToken, newToken } from "./session.ts";

/** Six digits, hashed together with the guardian whose they are: equal codes of two have nothing in common. */
const hashCode = (guardianId: string, code: string) =>
  hashToken(`${guardianId} ${code.replaceAll(/\D/g, "")}`);

/** Makes the one code that opens a guardian's link for the next ten minutes; null where the guardian may not read. */
export async function makeFamilyCode(
  database: KeyedRun,
  schoolId: string,
  guardianId: string,
): Promise<string | null> {
  const code = String(randomInt(1_000_000)).padStart(6, "0");
  return (await setFamilyCode(database, schoolId, guardianId, hashCode(guardianId, code))) ? code : null;
}

const isToken = (token: string | undefined): token is string => /^[\w-]{43}$/.test(token ?? "");

/**
 * Has a code mailed to a guardian who stands before their link. False where it was asked for too often: three times in a quarter of an hour.
 */
export async function mailFamilyCodeTo(
  database: Database,
  { schoolId, guardianId }: FamilyLink,
  address: string,
): Promise<boolean> {
  if (!(await mayAsk(database, "family-mail", { address, key: guardianId }))) return false;
  await database.transaction((trx) => enqueueJob(trx, { queue: "mail", data: { schoolId, guardianId } }));
  return true;
}

/** What a link is for; null where it is good no longer. */
export const familyLink = (database: Database, token: string | undefined): Promise<FamilyLink | null> =>
  isToken(token) ? findFamilyLink(database, hashToken(token)) : Promise.resolve(null);

/** Opens a family session with a link and its code. Five codes may be wrong in a quarter of an hour. */
export async function openFamily(
  database: Database,
  linkToken: string,
  typed: string,
): Promise<Tried<string>> {
  const link = await familyLink(database, linkToken);
  if (!link) return "wrong";
  const token = newToken();
  const tried = await limitedFamilyCode(database, link.guardianId, async () =>
    (await openFamilyByCode(
      database,
      hashToken(linkToken),
      hashCode(link.guardianId, typed),
      hashToken(token),
    ))
      ? token
      : null,
  );
  if (tried === "wrong" || isSlowDown(tried)) {
    noteSecurity("family code failed", { why: tried === "wrong" ? tried : "slow-down" });
    await noteFailedCode(database, link);
  }
  return tried;
}

/** Of whom the browser of a request may read as family now. */
export async function familyOf(
  database: Database,
  request: Request,
  secure: boolean,
): Promise<Guardianship[]> {
  const token = familyCookieToken(request, secure);
  return token === null ? [] : findFamily(database, hashToken(token));
}

/** Ends the family session of a request. */
export async function leaveFamily(database: Database, request: Request, secure: boolean): Promise<void> {
  const token = familyCookieToken(request, secure);
  if (token !== null) await closeFamily(database, hashToken(token));
}

/** Ties the guardian of a family session to an account. False where that cannot be. */
export async function keepFamily(
  database: Database,
  request: Request,
  secure: boolean,
  account: { accountId: string; newHash: string | null },
): Promise<boolean> {
  const token = familyCookieToken(request, secure);
  return token !== null && keepFamilyAs(database, hashToken(token), account);
}
