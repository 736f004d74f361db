import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openProvider, type StandInProvider } from "#demo/provider.ts";
import { emailOf, people } from "#demo/school.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import { makeLink } from "./links.ts";
import { readOwnProvider, removeProvider, saveProvider, turnProvider } from "../db/providers.ts";
import {
  endAtProvider,
  endTrial,
  isIssuer,
  type Sent,
  signOutAtProvider,
  startAtProvider,
} from "./provider.ts";
import { districtSchools, ownAccount, ownSchools, personOf, switchSchool } from "./session.ts";

const origin = "http://localhost:1";
let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
let provider: StandInProvider;
beforeAll(async () => {
  [db, provider] = await Promise.all([openThrowaway("demo"), openProvider(origin)]);
  demo = await demoIds(db.owner);
});
afterAll(async () => {
  await provider.stop();
  await db.close();
});

const asDesmond = <T>(work: Parameters<typeof inScope<T>>[3]) =>
  inScope(db.app, demo.person("desmond"), null, work);
const settings = (change: object = {}) => ({
  ...{ issuer: provider.issuer, clientId: provider.clientId, secret: provider.secret as string | null },
  ...{ label: "Sign in with Larkspur" },
  ...change,
});

/** Signs in at the stand-in as a browser would, without one: follows its redirects and sends its two forms. Answers with where it leads back to. */
async function atProvider(start: string, email: string): Promise<URL> {
  const jar = new Map<string, string>();
  const ask = async (url: string, fields?: Record<string, string>) => {
    const answer = await fetch(url, {
      redirect: "manual",
      headers: { Cookie: [...jar].map(([name, value]) => `${name}=${value}`).join("; ") },
      ...(fields ? { method: "POST", body: new URLSearchParams(fields) } : {}),
    });
    for (const cookie of answer.headers.getSetCookie()) {
      const [, name = "", value = ""] = /^([^=]+)=([^;]*)/.exec(cookie) ?? [];
      if (value === "") jar.delete(name);
      else jar.set(name, value);
    }
    return answer;
  };
  let url = start;
  for (let step = 0; step < 12; step += 1) {
    const answer = await ask(url);
    const page = answer.status === 200 ? await answer.text() : "";
    const action = /action="([^"]+)"/.exec(page)?.[1];
    const next = action
      ? (
          await ask(
            new URL(action, url).href,
            page.includes('name="login"')
              ? { prompt: "login", login: email, password: "any" }
              : { prompt: "consent" },
          )
        ).headers.get("Location")
      : answer.headers.get("Location");
    if (!next) throw new Error(`the provider answered ${answer.status}: ${page.slice(0, 300)}`);
    url = new URL(next, url).href;
    if (url.startsWith(origin)) return new URL(url);
  }
  throw new Error("the provider leads nowhere");
}

const browser = { address: "test", oldToken: null };
const started = async (isTest = false) => {
  const answer = await startAtProvider(db.app, demo.schoolId, { origin, to: null, isTest });
  if (typeof answer === "string") throw new Error(answer);
  return answer;
};
const signsIn = async (email: string, change: Partial<Sent> = {}) => {
  const { url, sent } = await started();
  return endAtProvider(db.app, { ...sent, ...change }, await atProvider(url, email), browser);
};

describe("the school's provider", () => {
  it("is set by an administrator, whose secret nobody reads again, and is turned on once it was tried", async () => {
    expect(await startAtProvider(db.app, demo.schoolId, { origin, to: null, isTest: true })).toBe("not-set");
    expect(await asDesmond((scope) => saveProvider(scope, settings({ secret: null })))).toBe(false);
    await expect(
      inScope(db.app, demo.person("noor"), null, (scope) => saveProvider(scope, settings())),
    ).rejects.toMatchObject({ name: "Refused" });
    expect(await asDesmond((scope) => saveProvider(scope, settings()))).toBe(true);
    const read = await asDesmond(readOwnProvider);
    expect(read).toMatchObject({ issuer: provider.issuer, testedAt: null, isOn: false });
    expect(JSON.stringify(read)).not.toContain(provider.secret);
    await expect(db.app.raw("select * from gate.providers")).rejects.toMatchObject({ code: "42501" });
    expect(await asDesmond((scope) => turnProvider(scope, true))).toBe(false);

    const { url, sent } = await started(true);
    expect(new URL(url).searchParams.get("code_challenge_method")).toBe("S256");
    // A trial signs nobody in, and needs no account here.
    expect(await endTrial(db.app, sent, await atProvider(url, "anyone@larkspurbay.example"))).toEqual({
      email: "anyone@larkspurbay.example",
    });
    expect(await asDesmond((scope) => turnProvider(scope, true))).toBe(true);
    // Other words on the button change nothing; another client has to be tried again.
    await asDesmond((scope) => saveProvider(scope, settings({ secret: null, label: "Larkspur account" })));
    expect(await asDesmond(readOwnProvider)).toMatchObject({ isOn: true, label: "Larkspur account" });
  });

  it("lets in who works there and has an account, into this school and nothing of the account itself", async () => {
    const ines = await signsIn(emailOf(people.ines));
    if (!ines.ok) throw new Error(ines.problem);
    const person = await personOf(db.app, ines.token);
    expect(person).toMatchObject({
      givenName: "Ines",
      schoolId: demo.schoolId,
      schools: 1,
      isDistrict: false,
    });
    // No other school, no password, no district: those are the account's own.
    expect(await ownAccount(db.app, ines.token)).toBeNull();
    expect(await ownSchools(db.app, ines.token)).toEqual([]);
    expect(await switchSchool(db.app, ines.token, demo.schoolId)).toBeNull();
    const desmond = await signsIn(emailOf(people.desmond));
    expect(desmond.ok && (await districtSchools(db.app, desmond.token))).toBeNull();
    // The second time it is known by its number, whatever its e-mail here is by then.
    await db.owner("people").where({ given_name: "Ines" }).update({ email: "other@larkspurbay.example" });
    expect(await signsIn(emailOf(people.ines))).toMatchObject({ ok: true, joined: false });
    await db
      .owner("people")
      .where({ given_name: "Ines" })
      .update({ email: emailOf(people.ines) });
  });

  it("makes an account only for who is invited, once, and lets nobody else in", async () => {
    const email = "ada.new@larkspurbay.example";
    expect(await signsIn(email)).toEqual({ ok: false, problem: "not-invited" });
    const personId = crypto.randomUUID();
    const key = { school_id: demo.schoolId, person_id: personId };
    await db.owner("people").insert({ ...key, given_name: "Ada", family_name: "New", role: "staff", email });
    expect(await signsIn(email)).toEqual({ ok: false, problem: "not-invited" });
    await asDesmond((scope) => makeLink(scope, "invitation", personId, { origin, mails: false }));
    expect(await signsIn(email.toUpperCase())).toMatchObject({ ok: true, joined: true, personId });
    expect(await signsIn(email.toUpperCase())).toMatchObject({ ok: true, joined: false });
    expect(await db.owner("gate.tickets").where(key).pluck("used_at")).toEqual([expect.any(Date)]);
    await db.owner("people").where(key).update({ left_on: "2026-01-01" });
    expect(await signsIn(email.toUpperCase())).toMatchObject({ ok: false });
    expect(await signsIn("unsure@larkspurbay.example")).toEqual({ ok: false, problem: "no-email" });
  });

  it("is believed only where state, nonce and verifier are those of this browser", async () => {
    const email = emailOf(people.ines);
    for (const change of [{ state: "another" }, { nonce: "another" }, { verifier: "a".repeat(43) }])
      expect(await signsIn(email, change)).toEqual({ ok: false, problem: "not-finished" });
    // A code is good once.
    const { url, sent } = await started();
    const back = await atProvider(url, email);
    expect((await endAtProvider(db.app, sent, back, browser)).ok).toBe(true);
    expect(await endAtProvider(db.app, sent, back, browser)).toEqual({ ok: false, problem: "not-finished" });
  });

  it("signs out there as well, and removing it ends the sessions that it opened", async () => {
    const ines = await signsIn(emailOf(people.ines));
    if (!ines.ok) throw new Error(ines.problem);
    const out = new URL((await signOutAtProvider(db.app, ines.token, origin)) ?? "");
    expect(out.href).toMatch(new RegExp(`^${provider.issuer}/session/end`));
    expect(out.searchParams.get("post_logout_redirect_uri")).toBe(`${origin}/sign-in`);
    expect(await asDesmond(removeProvider)).toBe(true);
    expect(await personOf(db.app, ines.token)).toBeNull();
    expect(await startAtProvider(db.app, demo.schoolId, { origin, to: null, isTest: false })).toBe("not-set");
  });

  it("is away where it does not answer, and is an address with TLS or of this machine", async () => {
    await asDesmond((scope) => saveProvider(scope, settings({ issuer: "http://localhost:9" })));
    expect(await startAtProvider(db.app, demo.schoolId, { origin, to: null, isTest: true })).toBe("away");
    expect(["https://login.example.org", "http://localhost:5000"].map(isIssuer)).toEqual([true, true]);
    expect(["http://login.example.org", "login.example.org", "file:///etc"].map(isIssuer)).toEqual([
      false,
      false,
      false,
    ]);
  });
});
