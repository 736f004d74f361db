import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { demoPassword, emailOf, people } from "#demo/school.ts";
import { openThrowaway } from "#tests/database.ts";
import { personOf, readToken, sessionCookie, signIn, signOut } from "./session.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
beforeAll(async () => {
  db = await openThrowaway("demo");
});
afterAll(() => db.close());
beforeEach(() => db.owner("rate_limits").delete());

const email = emailOf(people.noor);
const attempt = (part: Partial<Parameters<typeof signIn>[1]> = {}) =>
  signIn(db.app, { email, password: demoPassword, address: "10.0.0.1", oldToken: null, ...part });
async function token(oldToken: string | null = null): Promise<string> {
  const done = await attempt({ oldToken });
  if (!done.ok) throw new Error("not signed in");
  return done.token;
}
const age = (set: string) => db.owner.raw(`update gate.sessions set ${set}`);

describe("signing in", () => {
  it("finds the person behind the new session, whatever the case of the e-mail", async () => {
    const done = await attempt({ email: email.toUpperCase() });
    expect(done.ok && (await personOf(db.app, done.token))).toMatchObject({
      givenName: "Noor",
      schoolName: "Larkspur Bay School",
    });
  });

  it("gives the same answer for an unknown e-mail, a wrong password and a membership that is over", async () => {
    const wrong = { ok: false, verdict: "wrong" };
    expect(await attempt({ password: "something else" })).toEqual(wrong);
    expect(await attempt({ email: "nobody@larkspurbay.example" })).toEqual(wrong);
    await db.owner("gate.memberships").update({ to_on: "2026-01-01" });
    expect(await attempt()).toEqual(wrong);
    await db.owner("gate.memberships").update({ to_on: null });
  });

  it("makes a new token each time and ends the one before", async () => {
    const first = await token();
    const second = await token(first);
    expect(second).not.toBe(first);
    expect(await personOf(db.app, first)).toBeNull();
    expect(await personOf(db.app, second)).not.toBeNull();
  });

  it("keeps only a hash of the token", async () => {
    const secret = await token();
    const { rows } = await db.owner.raw<{ rows: { found: boolean }[] }>(
      "select bool_or(encode(token_hash, 'escape') like ?) as found from gate.sessions",
      [`%${secret}%`],
    );
    expect(rows[0]?.found).toBe(false);
  });

  it("slows down after ten tries for one e-mail from one place, counted for every web process together", async () => {
    const tries = [];
    for (let count = 0; count < 11; count += 1) tries.push(await attempt({ password: "guess" }));
    expect(tries.map((done) => !done.ok && done.verdict)).toEqual([
      ...Array.from({ length: 10 }, () => "wrong"),
      "slow-down",
    ]);
    expect(await attempt()).toEqual({ ok: false, verdict: "slow-down" });
    expect(await attempt({ address: "10.0.0.2" })).toMatchObject({ ok: true });
  });

  it("counts what fails and nothing else, and many tries at once are no way around it", async () => {
    for (let count = 0; count < 40; count += 1) expect(await attempt()).toMatchObject({ ok: true });
    const guesses = Array.from({ length: 25 }, () => attempt({ password: "guess" }));
    const verdicts = (await Promise.all(guesses)).map((done) => !done.ok && done.verdict);
    expect(verdicts.filter((verdict) => verdict === "wrong")).toHaveLength(10);
  });
});

describe("a session", () => {
  it("ends by signing out", async () => {
    const mine = await token();
    await signOut(db.app, mine);
    expect(await personOf(db.app, mine)).toBeNull();
  });

  it("ends after two idle hours, and after twelve hours however busy", async () => {
    const idle = await token();
    await age("seen_at = now() - interval '119 minutes'");
    expect(await personOf(db.app, idle, { touch: false })).not.toBeNull();
    await age("seen_at = now() - interval '121 minutes'");
    expect(await personOf(db.app, idle)).toBeNull();
    const busy = await token();
    await age("expires_at = now() - interval '1 second'");
    expect(await personOf(db.app, busy)).toBeNull();
  });

  it("is kept alive by use, but not by an open stream", async () => {
    const mine = await token();
    const seen = async () =>
      (
        await db.owner.raw<{ rows: { recent: boolean }[] }>(
          "select max(seen_at) > now() - interval '5 minutes' as recent from gate.sessions where ended_at is null and expires_at > now()",
        )
      ).rows[0]?.recent;
    await age("seen_at = now() - interval '1 hour'");
    await personOf(db.app, mine, { touch: false });
    expect(await seen()).toBe(false);
    await personOf(db.app, mine);
    expect(await seen()).toBe(true);
  });

  it("ends when the membership does", async () => {
    const mine = await token();
    await db.owner("gate.memberships").update({ to_on: "2026-01-01" });
    expect(await personOf(db.app, mine)).toBeNull();
    await db.owner("gate.memberships").update({ to_on: null });
  });
});

describe("the cookie", () => {
  it("is out of reach for scripts and other sites, and Secure with a host prefix behind TLS", () => {
    expect(sessionCookie("t", false)).toBe("gentle-margin=t; Path=/; HttpOnly; SameSite=Lax");
    // The order of the attributes says nothing (RFC 6265, section 4.1).
    expect(sessionCookie("t", true).split("; ").sort()).toEqual([
      "HttpOnly",
      "Path=/",
      "SameSite=Lax",
      "Secure",
      "__Host-gentle-margin=t",
    ]);
    expect(sessionCookie("", false)).toContain("Max-Age=0");
  });

  it("is read only in its own shape", () => {
    const good = "a".repeat(43);
    const from = (cookie: string, secure = false) =>
      readToken(new Request("http://x", { headers: { Cookie: cookie } }), secure);
    expect(from(`other=1; gentle-margin=${good}`)).toBe(good);
    expect(from(`gentle-margin=${good}`, true)).toBeNull();
    expect(from("gentle-margin=short")).toBeNull();
    expect(from("")).toBeNull();
  });
});
