import { v7 as newId } from "uuid";
import type { PersonScope } from "../access/scope.ts";
import type { KeyedRun } from "../db/app-key.ts";
import type { Database } from "../db/connection.ts";
import {
  acceptInvitation,
  addTicketLink,
  askReset,
  findTicket,
  makeTicket,
  type OpenTicket,
  resetByTicket,
  type TicketFor,
  type TicketPurpose,
} from "../db/tickets.ts";
import { schoolMails } from "../db/mail-settings.ts";
import { hashPassword } from "./password.ts";
import { mayAsk } from "./rate-limit.ts";
import { hashToken, newToken } from "./session.ts";

/** The page that each kind of link opens. */
const pathOf: Record<TicketPurpose, string> = { invitation: "/join", reset: "/reset" };

/** A link to be handed over. It is known here and now only: the database has its hash. */
export interface Link {
  url: string;
  whom: TicketFor;
}

/**
 * Makes a link for a person of the school, and sends another one by mail where the server sends mail.
 *
 * @param origin the address of this site, as the administrator's browser knows it
 * @returns null where the person cannot have one
 */
export async function makeLink(
  scope: PersonScope,
  purpose: TicketPurpose,
  personId: string,
  { origin, mails }: { origin: string; mails: boolean },
): Promise<Link | null> {
  const [token, ticketId] = [newToken(), newId()];
  const whom = await makeTicket(scope, purpose, personId, {
    ...{ tokenHash: hashToken(token), ticketId },
    mail: mails || (await schoolMails(scope)) ? { ticketId, origin } : null,
  });
  return whom && { url: `${origin}${pathOf[purpose]}/${token}`, whom };
}

/** The link of a ticket that is to be mailed now; null where it is no longer wanted. */
export async function linkToMail(
  database: KeyedRun,
  { ticketId, origin }: { ticketId: string; origin: string },
): Promise<Link | null> {
  const token = newToken();
  const whom = await addTicketLink(database, ticketId, hashToken(token));
  return whom && { url: `${origin}${pathOf[whom.purpose]}/${token}`, whom };
}

/** Has a reset mailed to the account of an e-mail, if there is one. False where it was asked for too often. */
export async function mailReset(
  database: Database,
  { email, address, origin }: { email: string; address: string; origin: string },
): Promise<boolean> {
  if (!(await mayAsk(database, "reset", { address, key: email }))) return false;
  await askReset(database, { email, ticketId: newId(), origin });
  return true;
}

const isToken = (token: string | undefined): token is string => /^[\w-]{43}$/.test(token ?? "");

/** What the link of an address opens; null where it is good no longer, or for something else. */
export async function openedBy(
  database: Database,
  token: string | undefined,
  purpose: TicketPurpose,
): Promise<OpenTicket | null> {
  const ticket = isToken(token) ? await findTicket(database, hashToken(token)) : null;
  return ticket?.purpose === purpose ? ticket : null;
}

/**
 * Uses an invitation with a new account.
 *
 * @returns the account and its school; null where the link is good no longer
 */
export async function joinAnew(
  database: Database,
  token: string,
  password: string,
): Promise<{ accountId: string; schoolId: string } | null> {
  const account = { accountId: newId(), newHash: await hashPassword(password) };
  const joined = await acceptInvitation(database, hashToken(token), account);
  return joined && { accountId: account.accountId, schoolId: joined.schoolId };
}

/** Uses an invitation with an account whose password was just shown to be known. */
export const joinWith = (
  database: Database,
  token: string,
  accountId: string,
): Promise<{ schoolId: string } | null> =>
  acceptInvitation(database, hashToken(token), { accountId, newHash: null });

/** Uses a reset: another password, and the end of every session. Answers with the account's e-mail; null where the link is good no longer. */
export const resetPassword = async (
  database: Database,
  token: string,
  password: string,
): Promise<string | null> => resetByTicket(database, hashToken(token), await hashPassword(password));
