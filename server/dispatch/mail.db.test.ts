import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openMailbox, type Mailbox } from "#demo/mailbox.ts";
import { emailOf, people } from "#demo/school.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import { recordEvents } from "../db/events.ts";
import { mailReset, makeLink, openedBy } from "../auth/links.ts";
import { revokeTickets, type TicketFor } from "../db/tickets.ts";
import { keepJobsRunning } from "../jobs/run.ts";
import { mailerFrom } from "./mailer.ts";
import { ticketMessage } from "./ticket-mail.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let mailbox: Mailbox;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  mailbox = await openMailbox();
});
afterAll(async () => {
  await mailbox.stop();
  await db.close();
});

const settings = () => ({
  SMTP_URL: mailbox.smtpUrl,
  MAIL_FROM: "Gentle Margin <margin@larkspurbay.example>",
});
const origin = "https://margin.example";
const mailed = (index = 0) => mailbox.messages[index];

describe("mail", () => {
  it("is off where the server does not know where to send it", () => {
    expect(mailerFrom({})).toBeNull();
    expect(mailerFrom({ SMTP_URL: "smtp://x" })).toBeNull();
    expect(mailerFrom(settings())).not.toBeNull();
  });

  it("brings a link that opens, once for each job, and nothing for a ticket that was taken back", async () => {
    const asDesmond = <T>(work: Parameters<typeof inScope<T>>[3]) =>
      inScope(db.app, demo.person("desmond"), null, work);
    const [gus, hana] = [demo.person("gus").personId, demo.person("hana").personId];
    const shown = await asDesmond((scope) => makeLink(scope, "reset", gus, { origin, mails: true }));
    await asDesmond((scope) => makeLink(scope, "reset", hana, { origin, mails: true }));
    await asDesmond((scope) => revokeTickets(scope, hana));
    const asked = { email: emailOf(people.ines), address: "test", origin };
    await mailReset(db.app, asked);
    const jobs = keepJobsRunning(db.appUrl, db.app, {
      pollingIntervalSeconds: 0.5,
      mailer: mailerFrom(settings()),
    });
    try {
      await expect
        .poll(
          async () =>
            (await db.owner("jobs.job").where({ name: "mail" }).whereNot({ state: "completed" })).length,
          { timeout: 20_000 },
        )
        .toBe(0);
    } finally {
      await jobs.stop();
    }
    expect(mailbox.messages.map(({ to }) => to).sort()).toEqual(
      [emailOf(people.gus), emailOf(people.ines)].sort(),
    );
    const toGus = mailbox.messages.find(({ to }) => to === emailOf(people.gus));
    const url = /https:\S+/.exec(toGus?.text ?? "")?.[0] ?? "";
    expect(url).toMatch(/^https:\/\/margin\.example\/reset\/[\w-]{43}$/);
    // The link that was mailed and the one that was shown are two of one ticket.
    expect(url).not.toBe(shown?.url);
    for (const link of [url, shown?.url ?? ""])
      expect(await openedBy(db.app, link.split("/").at(-1), "reset")).not.toBeNull();
    expect(toGus?.messageId).toMatch(/^<[0-9a-f-]{36}@larkspurbay\.example>$/);
    expect(toGus?.text).toContain("can be used once");
    const queued = await db.owner("jobs.job").where({ name: "mail" });
    expect(JSON.stringify(queued)).not.toContain(url.split("/").at(-1));
  });

  it("tells the leads of a student that a family asks: initials, once in ten minutes, and not who turned it off", async () => {
    const before = mailbox.messages.length;
    const wren = demo.student("Wren");
    const [noor, teo] = [demo.person("noor"), demo.person("teo")];
    await db.owner("circle").where({ student_id: wren, person_id: teo.personId }).update({ part: "lead" });
    const asked = () =>
      inScope(db.app, noor, wren, (scope) =>
        recordEvents(scope, [
          { thing: "guardian", act: "asked", thingId: wren, studentId: wren },
          { thing: "guardian", act: "answered", thingId: wren, studentId: wren },
        ]),
      );
    await db.owner("people").where({ person_id: teo.personId }).update({ mail_notices: false });
    await asked();
    await asked();
    const jobs = keepJobsRunning(db.appUrl, db.app, {
      pollingIntervalSeconds: 0.5,
      mailer: mailerFrom(settings()),
    });
    try {
      await expect.poll(() => mailbox.messages.length, { timeout: 20_000 }).toBe(before + 1);
      await expect
        .poll(
          async () =>
            (await db.owner("jobs.job").where({ name: "mail" }).whereNot({ state: "completed" })).length,
        )
        .toBe(0);
    } finally {
      await jobs.stop();
    }
    expect(mailbox.messages.length).toBe(before + 1);
    const message = mailbox.messages.find(({ subject }) => subject.includes("family"));
    expect(message).toMatchObject({ to: emailOf(people.noor), subject: "W.A.: a family has a question" });
    expect(`${message?.subject} ${message?.text}`).not.toMatch(/Wren|Abara/);
  });

  it("is shown on the mailbox's page as text, with nothing run that it carries", async () => {
    await mailerFrom(settings())?.send({
      ...{
        id: "x",
        to: "a@b.example",
        subject: "<script>alert(1)</script>",
        text: "see https://x.example/?a=1&b=2",
      },
    });
    expect(mailed()?.subject).toContain("script");
    const page = await (await fetch(mailbox.url)).text();
    expect(page).toContain("&lt;script&gt;");
    expect(page).toContain('href="https://x.example/?a=1&amp;b=2"');
  });

  it("names the school and the person, and no student", () => {
    const whom: TicketFor = {
      ...{
        purpose: "invitation",
        schoolName: "Larkspur Bay School",
        locale: "en-US",
        email: "ana@x.example",
      },
      ...{
        givenName: "Ana",
        familyName: "Ruiz",
        expiresAt: "2026-12-07T08:00:00.000Z",
        lastDay: "2026-12-07",
      },
    };
    expect(ticketMessage(whom, "https://x/join/abc")).toMatchObject({
      to: "ana@x.example",
      subject: "Larkspur Bay School invites you to Gentle Margin",
      text: expect.stringContaining("until Dec 7, 2026") as string,
    });
  });
});
