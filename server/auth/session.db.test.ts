import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { demoPassword, emailOf, people } from "#demo/school.ts";
import { openThrowaway } from "#tests/database.ts";
import { delayAfter, isSlowDown, limitedSignIn } from "./rate-limit.ts";
import { personOf, readToken, sessionCookie, type SignIn, signIn, signOut } from "./session.ts";

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

  it("gives the same answer for an unknown e-mail and a wrong password, and says with the right one that it is in no school", async () => {
    const wrong = { ok: false, verdict: "wrong" };
    expect(await attempt({ password: "something else" })).toEqual(wrong);
    expect(await attempt({ email: "nobody@larkspurbay.example" })).toEqual(wrong);
    await db.owner("gate.memberships").update({ to_on: "2026-01-01" });
    expect(await attempt({ password: "something else" })).toEqual(wrong);
    expect(await attempt()).toEqual({ ok: false, verdict: "no-school" });
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

  const guess = (part: Partial<Parameters<typeof signIn>[1]> = {}) => attempt({ password: "guess", ...part });
  const verdictOf = (done: SignIn) =>
    done.ok ? "in" : isSlowDown(done.verdict) ? "slow down" : done.verdict;

  it("makes each guess on strange devices wait longer, for the e-mail as a whole, counted for every web process together", async () => {
    for (let count = 0; count < 5; count += 1) expect(verdictOf(await guess())).toBe("wrong");
    // The sixth is looked at, and the next one has to wait, also from elsewhere and with the right password.
    expect(verdictOf(await guess({ address: "10.0.0.2" }))).toBe("wrong");
    expect(verdictOf(await guess({ address: "10.0.0.3" }))).toBe("slow down");
    const waiting = await attempt();
    expect(waiting).toEqual({ ok: false, verdict: { slowDown: expect.any(Number) as number } });
    expect([5, 6, 7, 8, 15, 400].map(delayAfter)).toEqual([0, 2, 4, 8, 900, 900]);
  });

  it("looks at no more guesses however many come at once", async () => {
    const verdicts = (await Promise.all(Array.from({ length: 40 }, () => guess()))).map(verdictOf);
    expect(verdicts.filter((verdict) => verdict === "wrong").length).toBeLessThanOrEqual(7);
  });

  it("is not slowed down where the account has signed in before, whatever is guessed elsewhere", async () => {
    const first = await attempt();
    const deviceToken = first.ok ? first.deviceToken : null;
    for (let count = 0; count < 8; count += 1) await guess({ address: "10.0.0.9" });
    expect(verdictOf(await attempt())).toBe("slow down");
    expect(verdictOf(await attempt({ deviceToken }))).toBe("in");
    // The device of another account is strange to this one.
    const other = await attempt({ email: emailOf(people.ines) });
    expect(verdictOf(await attempt({ deviceToken: other.ok ? other.deviceToken : null }))).toBe("slow down");
    // And guesses on the known device itself have their own limit.
    const there = [];
    for (let count = 0; count < 11; count += 1) there.push(verdictOf(await guess({ deviceToken })));
    expect(there).toEqual([...Array.from({ length: 10 }, () => "wrong"), "slow down"]);
  });

  it(
    "locks no school out: 500 right sign-ins from one address while another guesses there",
    { timeout: 120_000 },
    async () => {
      // What a right and a wrong password do to the limits; hashing them five hundred times would say nothing more.
      const staff = Array.from({ length: 50 }, (_, at) => `person${at}@larkspurbay.example`);
      const address = "10.1.1.1";
      const signInOf = (who: string, isRight: boolean) =>
        limitedSignIn(db.app, { email: who, address, knownDevice: null }, () =>
          Promise.resolve(isRight ? { who } : null),
        );
      let [right, left, guesses] = [0, 500, 0];
      const sitting = async (who: string) => {
        while (left > 0) {
          left -= 1;
          if (typeof (await signInOf(who, true)) === "object") right += 1;
        }
      };
      const guessing = async () => {
        for (; left > 0; guesses += 1) await signInOf(staff[guesses % 5] ?? "", false);
      };
      const victims = new Set(staff.slice(0, 5));
      await Promise.all([
        ...staff
          .filter((one) => !victims.has(one))
          .slice(0, 8)
          .map(sitting),
        guessing(),
      ]);
      expect(guesses).toBeGreaterThan(20);
      expect(right).toBe(500);
    },
  );

  it("from one address fails three hundred times in a quarter of an hour at most, for all accounts together", async () => {
    const tried = (at: number) =>
      limitedSignIn(db.app, { email: `nobody${at}@x.example`, address: "10.9.9.9", knownDevice: null }, () =>
        Promise.resolve(null),
      );
    for (let at = 0; at < 300; at += 1) expect(await tried(at)).toBe("wrong");
    expect(isSlowDown(await tried(301))).toBe(true);
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
