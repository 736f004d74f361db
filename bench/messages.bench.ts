/**
 * What messages cost those who save: the same saves through the same program, once with a mail server, where everybody of a circle is sent each new entry
 * at once and at any hour, and once without. Both processes hear news and keep the audit; only one makes and sends messages.
 */
import { openMailbox } from "#demo/mailbox.ts";
import { openThrowaway } from "#tests/database.ts";
import { signedIn } from "#tests/session.ts";
import { startWebServer } from "#tests/web-server.ts";
import { compare } from "./rounds.ts";
import { connections, loadSaves, recordPath, trialGoals } from "./saves.ts";

const mailbox = await openMailbox({});
async function site(more: Record<string, string>) {
  const db = await openThrowaway("demo");
  await db.owner.raw(
    `insert into message_hours (school_id, person_id, school_days_only, summary_at, summary_on)
     select school_id, person_id, false, '15:30', 5 from people
     on conflict (school_id, person_id) do update set quiet_from = null, quiet_to = null, school_days_only = false`,
  );
  await db.owner.raw(
    `insert into message_choices (school_id, person_id, kind, way) select school_id, person_id, 'entry', 'once' from people
     on conflict (school_id, person_id, kind) do update set way = 'once'`,
  );
  const goals = await trialGoals(db);
  const web = await startWebServer(db.appUrl, { LOG_LEVEL: "info", ...more });
  const cookie = (await signedIn(web.url, "noor")).cookie();
  return {
    ...{ db, web },
    run: () => loadSaves(db, web.url, cookie, goals, recordPath),
    /** What waits is sent without waiting for more of the same. */
    hurry: () =>
      db
        .owner("messages")
        .where({ state: "waiting" })
        .update({ next_at: new Date(0) }),
  };
}

const sending = await site({
  SMTP_URL: mailbox.smtpUrl,
  MAIL_FROM: "Gentle Margin <margin@larkspurbay.example>",
});
const silent = await site({});
const hurries = setInterval(() => void sending.hurry().catch(() => undefined), 1000);

await compare(`Saving an entry while messages go, ${connections} connections`, [
  { name: "everybody is sent each entry at once", run: sending.run },
  { name: "no mail server", run: silent.run },
]);
clearInterval(hurries);
const messages = await sending.db.owner("messages").where({ kind: "entry" }).select("state");
const sent = messages.filter(({ state }) => state === "sent").length;
console.log(`  messages made: ${messages.length}, sent meanwhile: ${sent}`);
if (sent === 0) throw new Error("no message was sent: nothing was compared");
await Promise.all([sending.web.stop(), silent.web.stop(), mailbox.stop()]);
await Promise.all([sending.db.close(), silent.db.close()]);
