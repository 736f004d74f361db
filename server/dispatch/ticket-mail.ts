import { dateWithYear } from "#core/words/dates.ts";
import { linkToMail } from "../auth/links.ts";
import type { Database } from "../db/connection.ts";
import type { TicketFor } from "../db/tickets.ts";
import type { MailJob } from "../jobs/enqueue.ts";
import { writeIn, withOwnLocale } from "../locale.ts";
import type { Mailer, Message } from "./mailer.ts";

/** What a person is sent with their link. It names no student. */
export function ticketMessage(whom: TicketFor, url: string): Omit<Message, "id"> {
  const to = whom.email;
  const greeting = whom.givenName ? `Hello ${whom.givenName},` : "Hello,";
  if (whom.purpose === "invitation") {
    const school = whom.schoolName ?? "A school";
    return {
      to,
      subject: `${school} invites you to Gentle Margin`,
      text: `${greeting}

${school} records the goals and the days of its students in Gentle Margin and invites you to it.
Open this page and choose a password:

${url}

The link can be used once, until ${dateWithYear(whom.lastDay)}. It is for you only: please do not pass it on.
If you do not work with ${school}, delete this message; nothing happens.
`,
    };
  }
  return {
    to,
    subject: "Set a new password for Gentle Margin",
    text: `${greeting}

A new password was asked for, for the account with this address. Set it here:

${url}

The link can be used once, and soon runs out. You will be signed out wherever you are signed in.
If you did not ask for it, delete this message; your password stays as it is.
`,
  };
}

/** Mails the link of a ticket. Sends nothing where the ticket was used or taken back meanwhile. */
export async function mailTicket(database: Database, mailer: Mailer, job: MailJob): Promise<void> {
  const link = await linkToMail(database, job);
  if (!link) return;
  await withOwnLocale(() => {
    if (link.whom.locale) writeIn(link.whom.locale);
    return mailer.send({ id: job.ticketId, ...ticketMessage(link.whom, link.url) });
  });
}
