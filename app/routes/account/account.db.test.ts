import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { hash } from "@node-rs/argon2";
import { agentWords } from "#server/auth/agent-words.ts";
import { isOldHash } from "#server/auth/password.ts";
import { passwordProblem } from "#server/auth/password-rules.ts";
import { personOf, signIn } from "#server/auth/session.ts";
import { demoPassword, emailOf, people } from "#demo/school.ts";
import { openThrowaway } from "#tests/database.ts";
import { type Caller, caller, leadsTo, problemsOf } from "#tests/route.ts";
import * as caseload from "../caseload/caseload.tsx";
import * as lists from "../school/lists.tsx";
import * as account from "./account.tsx";

let db: Awaited<ReturnType<typeof openThrowaway>>;
beforeAll(async () => {
  db = await openThrowaway("demo");
});
afterAll(() => db.close());
beforeEach(() => db.owner("rate_limits").delete());

const next = "seven quiet herons";
const change = (who: Caller, present: string, password: string) =>
  who.send(account.action, { intent: "change the password", present, next: password });
const isIn = async (who: Caller) => {
  try {
    await who.load(caseload.loader);
    return true;
  } catch (thrown) {
    expect(thrown).toBeInstanceOf(Response);
    return false;
  }
};
const signsIn = async (who: keyof typeof people, password: string, agent: string | null = null) =>
  (
    await signIn(db.app, {
      ...{ email: emailOf(people[who]), password, agent },
      ...{ address: "test", oldToken: null },
    })
  ).ok;

describe("a person's own account", () => {
  it("changes its password, and is signed out everywhere else", async () => {
    const [here, there] = [await caller(db.app, "gus"), await caller(db.app, "gus")];
    expect(await leadsTo(change(here, demoPassword, next))).toBe("/account?done=changed");
    expect([await isIn(here), await isIn(there)]).toEqual([true, false]);
    expect([await signsIn("gus", demoPassword), await signsIn("gus", next)]).toEqual([false, true]);
    const { rows } = await db.owner.raw<{ rows: { n: number }[] }>(
      "select count(*)::int as n from audit where thing = 'person' and act = 'password changed'",
    );
    expect(rows[0]?.n).toBe(1);
  });

  it("asks for the current password, and for one that is not easily guessed", async () => {
    const ines = await caller(db.app, "ines");
    expect((await problemsOf(change(ines, "another one", next))).problems).toEqual({
      present: "This is not your current password.",
    });
    for (const [weak, why] of [
      ["short", "at least 12"],
      ["111111111111", "most common"],
      ["ines.okafor!!", "own address"],
      [demoPassword, "your current password"],
    ] as const)
      expect((await problemsOf(change(ines, demoPassword, weak))).problems["next"]).toContain(why);
    expect(await signsIn("ines", demoPassword)).toBe(true);
  });

  it("may not be guessed through an open session, and no sign-in is slowed down by such guesses", async () => {
    const paloma = await caller(db.app, "paloma");
    const tries = [];
    for (let count = 0; count < 6; count += 1) tries.push(await problemsOf(change(paloma, "guess", next)));
    expect(tries.at(-2)?.status).toBe(422);
    expect(tries.at(-1)).toMatchObject({
      status: 429,
      problems: { form: expect.stringContaining("Too many") },
    });
    expect(await signsIn("paloma", demoPassword)).toBe(true);
  });

  it("lists where it is signed in, and signs out there and nowhere else", async () => {
    const [here, there] = [await caller(db.app, "mirela"), await caller(db.app, "mirela")];
    const other = await caller(db.app, "teo");
    await signsIn("mirela", demoPassword, "Mozilla/5.0 (Windows NT 10.0) Gecko/20100101 Firefox/140.0");
    const { sessions, email } = await here.load(account.loader);
    expect(email).toBe(emailOf(people.mirela));
    expect(sessions).toHaveLength(3);
    expect(sessions.filter(({ isThis }) => isThis)).toHaveLength(1);
    const firefox = sessions.find(({ agent }) => agent === "Firefox on Windows");
    const out = (sessionId: string, who = here) =>
      leadsTo(who.send(account.action, { intent: "sign out there", sessionId }));
    await out(firefox?.sessionId ?? "none");
    expect((await here.load(account.loader)).sessions).toHaveLength(2);
    // Another person's session is none of theirs.
    const theirs = (await other.load(account.loader)).sessions[0]?.sessionId ?? "";
    await out(theirs);
    expect(await isIn(other)).toBe(true);
    await out("");
    expect([await isIn(here), await isIn(there), await isIn(other)]).toEqual([true, false, true]);
  });

  it("has its hash made anew at sign-in where it was made with less memory", async () => {
    const old = await hash(demoPassword, { memoryCost: 19_456, timeCost: 2, parallelism: 1 });
    expect(isOldHash(old)).toBe(true);
    const email = emailOf(people.hana);
    await db.owner("gate.accounts").where({ email }).update({ password_hash: old });
    expect(await signsIn("hana", "wrong words here")).toBe(false);
    const stored = async () => {
      const found: { password_hash: string } | undefined = await db
        .owner("gate.accounts")
        .where({ email })
        .first("password_hash");
      return found?.password_hash ?? "";
    };
    expect(await stored()).toBe(old);
    expect(await signsIn("hana", demoPassword)).toBe(true);
    expect(isOldHash(await stored())).toBe(false);
    expect(await signsIn("hana", demoPassword)).toBe(true);
  });
});

describe("what a person says of themselves", () => {
  const named = (who: Caller, fields: Record<string, string>) =>
    who.send(account.action, { intent: "save the name", ...fields });

  it("is their name, as everything they recorded is signed, and how dates are written for them alone", async () => {
    const [teo, noor] = [await caller(db.app, "teo"), await caller(db.app, "noor")];
    expect(await leadsTo(named(teo, { givenName: " Théo ", familyName: "Brand", locale: "en-GB" }))).toBe(
      "/account?done=named",
    );
    expect(await teo.load(account.loader)).toMatchObject({
      name: { given: "Théo", family: "Brand" },
      locale: "en-GB",
    });
    const localeOf = async (who: Caller) => (await personOf(db.app, who.token))?.locale;
    expect([await localeOf(teo), await localeOf(noor)]).toEqual(["en-GB", "en-US"]);
    expect((await noor.load(lists.loader)).locale).toBe("en-US");
    const [act] = await db.owner("audit").where({ thing: "person", act: "named" });
    expect(act).toMatchObject({ person_id: act?.thing_id });
    await named(teo, { givenName: "Teo", familyName: "Brandvold", locale: "" });
    expect(await localeOf(teo)).toBe("en-US");
  });

  it("comes back as it was typed where it is no name", async () => {
    const teo = await caller(db.app, "teo");
    expect(await named(teo, { givenName: " ", familyName: "Brand", locale: "en-GB" })).toMatchObject({
      data: {
        problems: { givenName: "What is your given name?" },
        typed: { givenName: " ", familyName: "Brand", locale: "en-GB" },
      },
      init: { status: 422 },
    });
  });
});

describe("the first steps", () => {
  it("are counted over the school, for a principal in no circle too", async () => {
    const desmond = await caller(db.app, "desmond");
    await db.owner("people").where({ given_name: "Desmond" }).update({ trail_over: false });
    expect((await desmond.load(caseload.loader)).firstSteps).toBeNull();
    // All of them were done, so they are over for good.
    expect(await db.owner("people").where({ given_name: "Desmond" }).pluck("trail_over")).toEqual([true]);
  });
});

describe("a password", () => {
  it.each(["password1234", "qwertyuiop123", "123456789012", "aaaaaaaaaaaaa"])(
    "like %s is one of the most common, or one sign alone",
    async (password) => {
      expect(await passwordProblem(password, "a@b.example")).toMatch(/most common|At least/i);
    },
  );

  it("of a few words is taken", async () => {
    expect(await passwordProblem("seven quiet herons", "noor@school.example")).toBeNull();
    expect(await passwordProblem("x".repeat(201), "noor@school.example")).toContain("At most 200");
  });
});

describe("a browser in words", () => {
  // As the browsers say it of themselves: shortened, from memory.
  it.each([
    ["Mozilla/5.0 (X11; CrOS x86_64) AppleWebKit/537 Chrome/140 Safari/537", "Chrome on a Chromebook"],
    [
      "Mozilla/5.0 (iPad; CPU OS 17_0 like Mac OS X) AppleWebKit/605 Version/17 Safari/604",
      "Safari on an iPad",
    ],
    ["Mozilla/5.0 (Windows NT 10.0) AppleWebKit/537 Chrome/140 Safari/537 Edg/140", "Edge on Windows"],
    ["Mozilla/5.0 (Macintosh; Intel Mac OS X 10.15) Gecko/20100101 Firefox/140", "Firefox on a Mac"],
    ["curl/8", "A browser"],
    [null, "A browser"],
  ])("%s is “%s”", (agent, words) => {
    expect(agentWords(agent)).toBe(words);
  });
});
