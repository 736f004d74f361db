import { openMailbox, type Mailbox } from "#demo/mailbox.ts";
import type { Tables } from "#server/db/tables.ts";
import { deliverTo, type Sending } from "#server/dispatch/deliver.ts";
import { hearNews } from "#server/dispatch/hear.ts";
import { mailServerFrom } from "#server/dispatch/mail-server.ts";
import type { OpenDatabase } from "./database.ts";

type MessageRow = Tables["messages"];

/** A mailbox with everything that sends to it, for tests of messages. */
export async function openSending(db: OpenDatabase, schoolId: string, slowMs = 300) {
  const mailbox: Mailbox = await openMailbox({ slowMs });
  const environment = { SMTP_URL: mailbox.smtpUrl, MAIL_FROM: "Gentle Margin <margin@larkspurbay.example>" };
  const sending: Sending = {
    database: db.app,
    mailServer: mailServerFrom(environment),
    site: "https://margin.example",
  };
  const rows = (where: Partial<MessageRow> = {}): Promise<MessageRow[]> =>
    db.owner("messages").where(where).orderBy("place").select();
  return {
    ...{ mailbox, environment, sending, rows },
    /** Nobody has quiet hours, and every day counts. */
    async atAnyTime() {
      await db.owner.raw(
        `insert into message_hours (school_id, person_id, school_days_only, summary_at, summary_on)
         select school_id, person_id, false, '15:30', 5 from people
         on conflict (school_id, person_id) do update set quiet_from = null, quiet_to = null, school_days_only = false`,
      );
    },
    hear: () => hearNews(db.app, schoolId, true),
    /** Sends everything that waits, without waiting for more of the same or for the next try. */
    async deliver(more: Partial<Sending> = {}) {
      await db
        .owner("messages")
        .whereIn("state", ["waiting", "deferred", "held"])
        .whereRaw("next_at < 'infinity'")
        .update({ next_at: new Date(0) });
      for (const readerId of new Set((await rows()).map(({ reader_id }) => reader_id)))
        await deliverTo({ ...sending, ...more }, schoolId, readerId);
    },
    async empty() {
      mailbox.behave("take");
      for (const table of ["message_texts", "messages", "news", "summary_news", "wrong_addresses"])
        await db.owner(table).delete();
    },
    stop: () => mailbox.stop(),
  };
}
