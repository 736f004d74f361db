import { v7 as newId } from "uuid";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { chosenKindNames, chosenKinds } from "#core/dispatch/message-kinds.ts";
import { emailOf, people } from "#demo/school.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import { type Caller, caller, leadsTo, problemsOf } from "#tests/route.ts";
import { openSending } from "#tests/sending.ts";
import { addMessages } from "#server/db/messages.ts";
import { withScope } from "#server/db/school.ts";
import * as caseload from "../caseload/caseload.tsx";
import * as circle from "../circle/circle.tsx";
import * as guardians from "../family/guardians.tsx";
import * as ownMessages from "../account/messages.tsx";
import * as mail from "../school/mail.tsx";
import * as templates from "../school/messages.tsx";
import * as list from "./dispatch.tsx";
import * as go from "./go.ts";
import * as page from "./message.tsx";
import * as several from "./several.tsx";
import * as many from "./write-to-several.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let out: Awaited<ReturnType<typeof openSending>>;
let noor: Caller;
let teo: Caller;
let desmond: Caller;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  out = await openSending(db, demo.schoolId);
  const as = (key: "noor" | "teo" | "desmond") => caller(db.app, key, { mails: true });
  [noor, teo, desmond] = [await as("noor"), await as("teo"), await as("desmond")];
});
afterAll(async () => {
  await out.stop();
  await db.close();
});

const show = async (who: Caller, search = "") => (await who.load(list.loader, {}, search)).messages;
const stuck = () => show(noor, "?show=look");
const decide = (who: Caller, messageId: string, intent: string, more: Record<string, string> = {}) =>
  who.send(page.action, { intent, ...more }, { messageId });
const stateOf = async (messageId: string) => (await out.rows({ message_id: messageId }))[0];

describe("dispatch", () => {
  it("shows each person what is to them or about students they lead, and an administrator all, without texts of students", async () => {
    const [all, noors, teos] = [await show(desmond), await show(noor), await show(teo)];
    expect(all).toHaveLength(11);
    expect(noors.length).toBeLessThan(all.length);
    expect(teos.map(({ reader }) => reader.name)).toEqual(["Teo Brandvold"]);
    const aboutWren = all.find(({ kind }) => kind === "finding");
    const id = { messageId: aboutWren?.messageId ?? "" };
    expect((await noor.load(page.loader, id)).text).toContain("Goal 2b: Criterion reached");
    const asAdministrator = await desmond.load(page.loader, id);
    expect([asAdministrator.text, asAdministrator.message.subject]).toEqual([null, null]);
    await expect(teo.load(page.loader, id)).rejects.toMatchObject({ init: { status: 404 } });
    expect(JSON.stringify(all)).not.toMatch(/Wren|Caspian/);
    await expect(decide(teo, teos[0]?.messageId ?? "", "again")).rejects.toMatchObject({
      init: { status: 403 },
    });
  });

  it("names what is stuck on the caseload; a corrected address has the message and all that waits for it sent", async () => {
    const { families } = await noor.load(caseload.loader);
    expect(families.reduce((sum, one) => sum + one.stuck, 0)).toBe(2);
    const [held, refused] = await stuck();
    expect([held?.why, refused?.why]).toEqual(["not confirmed", "wrong address"]);
    const { studentId = "" } = refused?.student ?? {};
    const known = (await noor.load(guardians.loader, { studentId })).guardians;
    expect(known[0]?.refusedWith).toContain("5.1.2");
    const id = refused?.messageId ?? "";
    // What is left as it is asks nobody any more; sent again and refused again, it does.
    await leadsTo(decide(noor, id, "leave"));
    expect(await stuck()).toHaveLength(1);
    await leadsTo(decide(noor, id, "again"));
    await db.owner("messages").where({ message_id: id }).update({ state: "refused", why: "wrong address" });
    expect(await stuck()).toHaveLength(2);
    await db.owner("wrong_addresses").insert({
      ...{ school_id: demo.schoolId, email: refused?.to ?? "", answer: "550 5.1.2 No such domain" },
    });
    // Another message to the same guardian waits.
    const reader = { guardianId: refused?.reader.guardianId ?? "" };
    await withScope(db.app, { kind: "job", schoolId: demo.schoolId, name: "test" }, null, (scope) =>
      addMessages(scope, [{ kind: "answer", reader, studentId, about: {} }]),
    );
    await out.deliver();
    expect(await problemsOf(decide(noor, id, "correct", { email: "fergus@" }))).toMatchObject({
      problems: { email: "This is not a complete e-mail address." },
    });
    await leadsTo(decide(noor, id, "correct", { email: "Fergus.Doyle@home.example" }));
    expect(await out.rows({ guardian_id: reader.guardianId })).toMatchObject([
      { state: "waiting" },
      { state: "waiting" },
    ]);
    await db.owner("messages").where({ guardian_id: reader.guardianId }).update({ is_urgent: true });
    await out.deliver();
    expect(await out.rows({ guardian_id: reader.guardianId })).toMatchObject([
      { state: "sent", to_address: "fergus.doyle@home.example" },
      { state: "sent" },
    ]);
    // Of Malik's mother the case manager says that the address is right.
    await leadsTo(
      noor.send(
        guardians.action,
        { intent: "confirm the address", guardianId: held?.reader.guardianId ?? "" },
        { studentId: held?.student?.studentId ?? "" },
      ),
    );
    expect((await stateOf(held?.messageId ?? ""))?.state).not.toBe("held");
    expect(await stuck()).toEqual([]);
  });

  it("asks a person what became of an unknown one, and cancels what waits", async () => {
    const reader = { personId: demo.person("noor").personId };
    const [unknown, waiting] = [newId(), newId()];
    await withScope(db.app, { kind: "job", schoolId: demo.schoolId, name: "test" }, null, (scope) =>
      addMessages(
        scope,
        [unknown, waiting].map((messageId) => ({
          ...{ messageId, kind: "question" as const, reader, studentId: demo.student("Wren"), about: {} },
        })),
      ),
    );
    await db.owner("messages").where({ message_id: unknown }).update({ state: "unknown", why: "no answer" });
    await leadsTo(decide(noor, unknown, "arrived"));
    expect(await stateOf(unknown)).toMatchObject({ state: "sent", why: "confirmed by a person" });
    await leadsTo(decide(noor, waiting, "cancel"));
    expect((await stateOf(waiting))?.state).toBe("cancelled");
    expect(await problemsOf(decide(noor, waiting, "cancel"))).toMatchObject({ status: 409 });
    expect(await problemsOf(decide(noor, unknown, "again"))).toMatchObject({ status: 409 });
  });

  it("leads its reader to what it is about, notes that they opened it, and tells nobody else anything", async () => {
    const [message] = await show(noor, "?show=sent");
    const mine = (await show(desmond)).find(
      ({ kind, reader, openedAt }) => kind === "question" && reader.name === "Noor Halloran" && !openedAt,
    );
    expect(message).toBeDefined();
    const id = { messageId: mine?.messageId ?? "" };
    expect(await leadsTo(teo.load(go.loader, id))).toBe("/caseload");
    expect((await stateOf(id.messageId))?.opened_at).toBeNull();
    expect(await leadsTo(noor.load(go.loader, id))).toBe(`/students/${demo.student("Wren")}/family`);
    expect((await stateOf(id.messageId))?.opened_at).not.toBeNull();
    expect(await leadsTo(noor.load(go.loader, { messageId: "x" }))).toBe("/caseload");
  });
});

describe("a message to several families", () => {
  const words = {
    subjectEn: "Conference days for [student]",
    wordsEn: "Please choose a time, [reader].",
  };
  const send = (fields: Record<string, string>, search = "") =>
    noor.send(many.action, { intent: "send", batchId: newId(), ...fields }, {}, search);

  it("says who will not get it and why, sends to those who can, and keeps a record", async () => {
    // What other tests left goes first.
    await db.owner("messages").where({ state: "waiting" }).update({ is_urgent: true });
    await out.deliver();
    const { list: families } = await noor.load(many.loader);
    const able = families.filter(({ why }) => why === null);
    expect(new Set(families.flatMap(({ why }) => why ?? []))).toEqual(
      new Set(["no e-mail address", "may not read"]),
    );
    const ticked = Object.fromEntries(able.map(({ guardianId }) => [`guardian.${guardianId}`, "yes"]));
    expect((await problemsOf(send(ticked))).problems).toEqual({ wordsEn: "Write the message." });
    expect((await problemsOf(send({ ...ticked, ...words, wordsEn: "Dear [parent]" }))).problems).toEqual({
      wordsEn: "[parent] is not a field of this message. There are [reader], [student], [school], [link].",
    });
    const named = { ...ticked, ...words, wordsEn: "As Caspian Doyle does, please choose a time." };
    expect((await problemsOf(send(named))).problems["names"]).toContain("“Caspian Doyle”");
    const preview = await noor.send(many.action, {
      intent: "preview",
      batchId: newId(),
      ...ticked,
      ...words,
    });
    expect(JSON.stringify(preview)).toMatch(/Please choose a time, (Lena Abara|Fergus Doyle)\./);

    const batchId = newId();
    const sent = { ...ticked, ...words, batchId };
    const to = await leadsTo(send(sent));
    expect(to).toBe(`/dispatch/several/${batchId}`);
    // Sent twice, as by a second press, it is one.
    await leadsTo(send(sent));
    const english = able.filter(({ language }) => language === "en").length;
    const shown = await noor.load(several.loader, { batchId });
    expect(shown.batch).toMatchObject({ count: english, sent: 0, title: "Conference days for …" });
    expect(shown.batch.out.map(({ why }) => why)).toContain("reads Spanish: not written yet");
    await db.owner("messages").where({ batch_id: batchId }).update({ is_urgent: true });
    const before = out.mailbox.messages.length;
    await out.deliver();
    // One to each, and one to who wrote them.
    const receipts = () => out.rows({ kind: "receipt", person_id: demo.person("noor").personId });
    expect(await receipts()).toHaveLength(1);
    expect(out.mailbox.messages.length - before).toBeGreaterThanOrEqual(english);
    const toLena = out.mailbox.messages.find(({ to: address }) => address === "lena.abara@home.example");
    expect(toLena).toMatchObject({ subject: "Conference days for W.A." });
    expect(toLena?.text).toContain("Please choose a time, Lena Abara.");
    expect((await noor.load(several.loader, { batchId })).batch).toMatchObject({ sent: english, waiting: 0 });
    await expect(teo.load(several.loader, { batchId })).rejects.toMatchObject({ init: { status: 404 } });
  });

  it("tells families that the report of this period is on their page, and can be cancelled before it went", async () => {
    const { list: families } = await noor.load(many.loader, {}, "?what=reports");
    const ready = families.filter(({ why }) => why === null);
    expect(ready.map(({ name }) => name).sort()).toEqual(["Lena Abara", "Marisol Reyes"]);
    expect(families.find(({ name }) => name === "Ama Osei")?.why).toContain("no report of this period");
    const batchId = newId();
    await leadsTo(
      send(
        { batchId, ...Object.fromEntries(ready.map(({ guardianId }) => [`guardian.${guardianId}`, "yes"])) },
        "?what=reports",
      ),
    );
    await leadsTo(noor.send(several.action, { intent: "cancel" }, { batchId }));
    const { batch, messages } = await noor.load(several.loader, { batchId });
    expect(batch).toMatchObject({ isCancelled: true, waiting: 0, sent: 0 });
    expect(messages.every(({ state }) => state === "cancelled")).toBe(true);
  });
});

describe("what a person wants to be sent", () => {
  it("is saved, with what was typed wrong beside its field", async () => {
    const fields = {
      ...Object.fromEntries(chosenKindNames.map((kind) => [kind, chosenKinds[kind].usual])),
      ...{
        entry: "weekly",
        quiet: "yes",
        quietFrom: "9 pm",
        quietTo: "6:30",
        summaryAt: "7:15",
        summaryOn: "1",
      },
    };
    const save = (change: Record<string, string>) => teo.send(ownMessages.action, { ...fields, ...change });
    expect((await problemsOf(save({ quietFrom: "soon" }))).problems["quietFrom"]).toMatch(/time/);
    expect((await problemsOf(save({ due: "once" }))).problems["due"]).toBe("Choose one.");
    expect((await problemsOf(save({ quietTo: "9 pm" }))).problems["quietTo"]).toContain("another time");
    await leadsTo(save({}));
    const { ways, hours } = await teo.load(ownMessages.loader);
    expect(ways).toMatchObject({ entry: "weekly", incident: "once" });
    expect(hours).toEqual({
      ...{ quiet: { from: "21:00", to: "06:30" }, schoolDaysOnly: false, summaryAt: "07:15", summaryOn: 1 },
    });
  });

  it("is nothing of a student who was muted for them by the lead", async () => {
    const studentId = demo.student("Wren");
    const mute = (who: Caller, muted: string) =>
      who.send(
        circle.action,
        { intent: "mute", personId: demo.person("teo").personId, muted },
        { studentId },
      );
    await leadsTo(mute(noor, "yes"));
    const isMuted = async () =>
      (await noor.load(circle.loader, { studentId })).members.find(({ name }) => name === "Teo Brandvold")
        ?.isMuted;
    expect(await isMuted()).toBe(true);
    await leadsTo(mute(noor, "no"));
    expect(await isMuted()).toBe(false);
    await expect(mute(teo, "yes")).rejects.toMatchObject({ init: { status: 403 } });
  });
});

describe("the school's mail", () => {
  const server = {
    ...{ intent: "save", host: "smtp.larkspurbay.example", port: "587", security: "starttls" },
    ...{ username: "margin", password: "hush", fromName: "Larkspur Bay", from: "margin@larkspurbay.example" },
  };

  it("is set by an administrator; the password is stored, never shown, and not kept for another server", async () => {
    await leadsTo(desmond.send(mail.action, server));
    const { server: shown } = await desmond.load(mail.loader);
    expect(shown).toMatchObject({ host: server.host, hasPassword: true, isOn: false });
    expect(JSON.stringify(shown)).not.toContain("hush");
    await leadsTo(desmond.send(mail.action, { ...server, password: "" }));
    expect((await desmond.load(mail.loader)).server?.hasPassword).toBe(true);
    await leadsTo(desmond.send(mail.action, { ...server, password: "", host: "smtp.elsewhere.example" }));
    expect((await desmond.load(mail.loader)).server?.hasPassword).toBe(false);
    for (const [field, typed] of [
      ["host", "http://x"],
      ["port", "22"],
      ["from", "nobody"],
      ["fromName", "A <b@c.example>"],
    ] as const)
      expect(await problemsOf(desmond.send(mail.action, { ...server, [field]: typed }))).toMatchObject({
        problems: { [field]: expect.any(String) as string },
      });
    await expect(noor.send(mail.action, server)).rejects.toMatchObject({ init: { status: 403 } });
    const audit = await db.owner("audit").where({ thing: "mail server" });
    expect(audit.length).toBeGreaterThan(0);
  });

  it("is used once it took a test message", async () => {
    process.env["MAIL_INSIDE"] = "1";
    const { port } = new URL(out.mailbox.smtpUrl);
    const row = { host: "127.0.0.1", port: Number(port), security: "none", username: null, password: null };
    await db.owner("gate.mail_servers").update(row);
    await leadsTo(desmond.send(mail.action, { intent: "test" }));
    expect(await problemsOf(desmond.send(mail.action, { intent: "test" }))).toMatchObject({
      problems: { test: expect.stringContaining("on its way") as string },
    });
    await out.deliver();
    delete process.env["MAIL_INSIDE"];
    const { server: shown, test } = await desmond.load(mail.loader);
    expect(test?.state).toBe("sent");
    expect(shown?.isOn).toBe(true);
    expect(
      await inScope(db.app, demo.person("teo"), null, ({ trx }) =>
        trx.raw<{ rows: unknown[] }>("select * from gate.mail_server_here()"),
      ),
    ).toMatchObject({ rows: [] });
    await leadsTo(desmond.send(mail.action, { intent: "remove" }));
    expect((await desmond.load(mail.loader)).server).toBeNull();
  });

  it("says what the school wants it to say, checked and previewed with a student", async () => {
    const at = "?kind=entry&in=en";
    const send = (intent: string, subject: string, text: string, more = {}) =>
      noor.send(templates.action, { intent, subject, text, ...more }, {}, at);
    expect((await problemsOf(send("save", "[student]", "[whot] [link]"))).problems["text"]).toContain(
      "[whot]",
    );
    const preview = await send("preview", "About [student]", "[what] by [by]\r\n\r\n[link]", {
      student: demo.student("Wren"),
    });
    expect(preview).toMatchObject({ preview: { subject: "About W.A.", isExample: false } });
    await leadsTo(send("save", "About [student]", "[what]\r\n\r\n[link]"));
    expect((await noor.load(templates.loader, {}, at)).template).toMatchObject({
      ...{ isOwn: true, subject: "About [student]", text: "[what]\n\n[link]" },
    });
    await leadsTo(noor.send(templates.action, { intent: "put back" }, {}, at));
    expect((await noor.load(templates.loader, {}, at)).template.isOwn).toBe(false);
    await expect(teo.load(templates.loader, {}, at)).rejects.toMatchObject({ init: { status: 403 } });
    expect(emailOf(people.teo)).toContain("@");
  });
});
