import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { v7 as newId } from "uuid";
import { demoPassword, emailOf, people } from "#demo/school.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import { makeSchool, setDistrictPerson } from "../db/accounts.ts";
import { saveStaff } from "../db/staff.ts";
import { endSessionsHere, listAccountsHere, listSessionsHere, revokeTickets } from "../db/tickets.ts";
import { joinAnew, joinWith, mailReset, makeLink, openedBy, resetPassword } from "./links.ts";
import { districtSchools, ownSchools, personOf, signIn, switchSchool } from "./session.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
});
afterAll(() => db.close());
beforeEach(() => db.owner("rate_limits").delete());

const site = { origin: "https://margin.example", mails: false };
const password = "seven quiet herons";
const asDesmond = <T>(work: Parameters<typeof inScope<T>>[3]) =>
  inScope(db.app, demo.person("desmond"), null, work);
const browser = { address: "test", oldToken: null };
const tokenOf = (url: string | undefined) => url?.split("/").at(-1) ?? "";
let count = 0;
/** A new person of the staff, with an e-mail. */
async function newPerson() {
  count += 1;
  const [personId, email] = [newId(), `new${count}@larkspurbay.example`];
  await asDesmond((scope) =>
    saveStaff(scope, {
      ...{ personId, email, givenName: "Ana", familyName: `Ruiz ${count}`, position: "Aide" },
      ...{ role: "staff", caseManager: false, leftOn: null },
    }),
  );
  return { personId, email };
}
const link = (personId: string, purpose: "invitation" | "reset" = "invitation") =>
  asDesmond((scope) => makeLink(scope, purpose, personId, site));
const invited = async () => {
  const person = await newPerson();
  return { ...person, token: tokenOf((await link(person.personId))?.url) };
};
const lineOf = (personId: string) =>
  asDesmond(async (scope) => (await listAccountsHere(scope)).get(personId));
const signedIn = async (email: string, typed = password) => {
  const done = await signIn(db.app, { email, password: typed, ...browser });
  return done.ok ? done : null;
};

describe("an invitation", () => {
  it("opens an account once, in the school that invites, with the part it was given", async () => {
    const { personId, email, token } = await invited();
    expect(await openedBy(db.app, token, "invitation")).toMatchObject({
      ...{ schoolName: "Larkspur Bay School", givenName: "Ana", email, accountId: null },
    });
    expect(await openedBy(db.app, token, "reset")).toBeNull();
    expect((await lineOf(personId))?.invitedUntil).not.toBeNull();
    expect(await joinAnew(db.app, token, password)).toMatchObject({ schoolId: demo.schoolId });
    const here = await signedIn(email);
    expect(here && (await personOf(db.app, here.token))).toMatchObject({ personId, role: "staff" });
    expect(await openedBy(db.app, token, "invitation")).toBeNull();
    expect(await joinAnew(db.app, token, password)).toBeNull();
    expect(await lineOf(personId)).toMatchObject({
      accountEmail: email,
      invitedUntil: null,
      openSessions: 1,
    });
    expect(await link(personId)).toBeNull();
  });

  it("is good for seven days, until another one is made, and until it is taken back", async () => {
    const { personId, token } = await invited();
    const again = tokenOf((await link(personId))?.url);
    expect(await openedBy(db.app, token, "invitation")).toBeNull();
    expect(await openedBy(db.app, again, "invitation")).not.toBeNull();
    const days = (shift: string) =>
      db.owner.raw("update gate.tickets set expires_at = expires_at - ?::interval where person_id = ?", [
        shift,
        personId,
      ]);
    await days("6 days 23 hours");
    expect(await openedBy(db.app, again, "invitation")).not.toBeNull();
    await days("2 hours");
    expect(await openedBy(db.app, again, "invitation")).toBeNull();
    expect(await joinAnew(db.app, again, password)).toBeNull();
    const last = tokenOf((await link(personId))?.url);
    expect(await asDesmond((scope) => revokeTickets(scope, personId))).toBe(1);
    expect(await openedBy(db.app, last, "invitation")).toBeNull();
  });

  it("is for nobody without an e-mail, or who has left, also where it was made before", async () => {
    const { personId, email, token } = await invited();
    await asDesmond((scope) =>
      saveStaff(scope, {
        ...{ personId, email, givenName: "Ana", familyName: "Left", position: "" },
        ...{ role: "staff", caseManager: false, leftOn: "2026-01-01" },
      }),
    );
    expect(await openedBy(db.app, token, "invitation")).toBeNull();
    expect(await link(personId)).toBeNull();
  });

  it("used twice at once opens one account", async () => {
    const { token } = await invited();
    const both = await Promise.all([joinAnew(db.app, token, password), joinAnew(db.app, token, password)]);
    expect(both.filter((one) => one !== null)).toHaveLength(1);
  });

  it("is made by an administrator only, and leaves no secret in the database", async () => {
    const { personId, token } = await invited();
    await expect(
      inScope(db.app, demo.person("noor"), null, (scope) => makeLink(scope, "invitation", personId, site)),
    ).rejects.toThrow();
    const { rows } = await db.owner.raw<{ rows: { found: boolean }[] }>(
      "select bool_or(encode(token_hash, 'escape') like ?) as found from gate.ticket_links",
      [`%${token}%`],
    );
    expect(rows[0]?.found).toBe(false);
    for (const table of ["tickets", "ticket_links", "known_devices", "district_people", "second_steps"])
      await expect(db.app.raw(`select * from gate.${table}`)).rejects.toMatchObject({ code: "42501" });
  });

  it("of another school is out of an administrator's reach", async () => {
    const [person] = await otherSchool("away@elsewhere.example");
    expect(await link(person?.person_id ?? "")).toBeNull();
    expect(await asDesmond((scope) => revokeTickets(scope, person?.person_id ?? ""))).toBe(0);
    expect(await lineOf(person?.person_id ?? "")).toBeUndefined();
  });
});

/** Another school, and the people in it. */
async function otherSchool(email: string) {
  const token = await makeSchool(db.owner, {
    ...{ name: `Heron Point ${newId()}`, timeZone: "America/New_York", locale: "en-US", email },
    ...{ givenName: "Ada", familyName: "Marsh" },
  });
  const rows = await db
    .owner<{ person_id: string; school_id: string; email: string }>("people")
    .where({ email });
  return [rows.find(({ school_id }) => school_id !== demo.schoolId), token] as const;
}

describe("an account in several schools", () => {
  const email = emailOf(people.ines);

  it("is added to a second school with its own password, and turns from one to the other", async () => {
    const [person, token] = await otherSchool(email);
    const ticket = await openedBy(db.app, token, "invitation");
    expect(ticket?.accountId).not.toBeNull();
    // Not with a new password: the account is there, and is its owner's.
    expect(await joinAnew(db.app, token, password)).toBeNull();
    expect(await joinWith(db.app, token, ticket?.accountId ?? "")).toMatchObject({
      schoolId: person?.school_id,
    });
    const here = await signedIn(email, demoPassword);
    expect(here?.schools).toBe(2);
    const first = here?.token ?? "";
    const before = await personOf(db.app, first);
    const schools = await ownSchools(db.app, first);
    expect(schools).toHaveLength(2);
    const other = schools.find(({ schoolId }) => schoolId !== before?.schoolId);
    const next = (await switchSchool(db.app, first, other?.schoolId ?? "")) ?? "";
    expect(await personOf(db.app, first)).toBeNull();
    expect(await personOf(db.app, next)).toMatchObject({ schoolId: other?.schoolId, schools: 2 });
    // It is where the next sign-in begins.
    const again = await signedIn(email, demoPassword);
    expect(again && (await personOf(db.app, again.token))).toMatchObject({ schoolId: other?.schoolId });
    // A school it is not in, and one it has left, are none of its schools.
    const [stranger] = await otherSchool("nobody@elsewhere.example");
    expect(await switchSchool(db.app, next, stranger?.school_id ?? "")).toBeNull();
    await db.owner("people").where({ person_id: person?.person_id }).update({ left_on: "2026-01-01" });
    expect((await ownSchools(db.app, again?.token ?? null)).map(({ schoolId }) => schoolId)).not.toContain(
      person?.school_id,
    );
  });

  it("has its password replaced by no administrator", async () => {
    const personId = demo.person("ines").personId;
    expect(await link(personId, "reset")).toBeNull();
    expect(await lineOf(personId)).toMatchObject({ isElsewhere: true });
    expect(await link(demo.person("gus").personId, "reset")).not.toBeNull();
  });

  it("is signed out of one school by its administrator, and stays in the other", async () => {
    await signedIn(emailOf(people.teo), demoPassword);
    const [person, token] = await otherSchool(emailOf(people.teo));
    const ticket = await openedBy(db.app, token, "invitation");
    await joinWith(db.app, token, ticket?.accountId ?? "");
    const [one, two] = [
      await signedIn(emailOf(people.teo), demoPassword),
      await signedIn(emailOf(people.teo), demoPassword),
    ];
    const away = await switchSchool(db.app, two?.token ?? "", person?.school_id ?? "");
    const teo = demo.person("teo").personId;
    const sessions = await asDesmond((scope) => listSessionsHere(scope, teo));
    expect(sessions).toHaveLength(3);
    for (const { sessionId } of sessions)
      expect(await asDesmond((scope) => endSessionsHere(scope, teo, sessionId))).toBe(1);
    expect(await personOf(db.app, one?.token ?? null)).toBeNull();
    expect(await personOf(db.app, away)).not.toBeNull();
  });
});

describe("a reset", () => {
  it("sets another password, ends every session, and works once, for a day", async () => {
    const email = emailOf(people.hana);
    const before = await signedIn(email, demoPassword);
    const token = tokenOf((await link(demo.person("hana").personId, "reset"))?.url);
    expect(await openedBy(db.app, token, "reset")).toMatchObject({ email });
    expect(await resetPassword(db.app, token, password)).toBe(email);
    expect(await personOf(db.app, before?.token ?? null)).toBeNull();
    expect(await signedIn(email, demoPassword)).toBeNull();
    expect(await signedIn(email)).not.toBeNull();
    expect(await resetPassword(db.app, token, "another few words")).toBeNull();
    const late = tokenOf((await link(demo.person("hana").personId, "reset"))?.url);
    await db.owner("gate.tickets").update({ expires_at: new Date() });
    expect(await resetPassword(db.app, late, "another few words")).toBeNull();
  });

  it("is mailed to who asks, three times in a quarter of an hour at most, and to nobody without an account", async () => {
    const ask = (email: string) =>
      mailReset(db.app, { email, address: "10.0.0.1", origin: "https://margin.example" });
    const jobs = async () => (await db.owner("jobs.job").where({ name: "mail" })).length;
    expect([await ask("nobody@x.example"), await jobs()]).toEqual([true, 0]);
    const email = emailOf(people.gus);
    const asked = [await ask(email), await ask(email), await ask(email), await ask(email)];
    expect(asked).toEqual([true, true, true, false]);
    expect(await jobs()).toBe(3);
  });
});

describe("the district", () => {
  it("lists schools and who runs them for an account that may see them, and for no other", async () => {
    const desmond = await signedIn(emailOf(people.desmond), demoPassword);
    const token = desmond?.token ?? null;
    expect(await districtSchools(db.app, token)).toBeNull();
    expect(await setDistrictPerson(db.owner, "nobody@x.example", true)).toBe(false);
    expect(await setDistrictPerson(db.owner, emailOf(people.desmond), true)).toBe(true);
    const schools = await districtSchools(db.app, token);
    expect(schools?.length).toBeGreaterThan(3);
    expect(schools?.find(({ schoolId }) => schoolId === demo.schoolId)).toMatchObject({
      name: "Larkspur Bay School",
      administrators: [{ name: "Desmond Achterberg", email: emailOf(people.desmond) }],
    });
    expect(JSON.stringify(schools)).not.toContain("Wren");
    await setDistrictPerson(db.owner, emailOf(people.desmond), false);
    expect(await districtSchools(db.app, token)).toBeNull();
  });
});
