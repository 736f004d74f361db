import { afterAll, beforeAll, beforeEach, describe, expect, it } from "vitest";
import { demoPassword, emailOf, people, type PersonKey } from "#demo/school.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import { makeSetUpCode } from "../db/accounts.ts";
import { isSetUpCode } from "../db/sessions.ts";
import { endSecondStepHere, saveSecondStepFor } from "../db/tickets.ts";
import { isSlowDown } from "./rate-limit.ts";
import {
  codeAt,
  confirmWith,
  giveUpStep,
  hashSetUpCode,
  ownSecondStep,
  setUpSecondStep,
  signInWithStep,
} from "./second-step.ts";
import { personOf, signIn } from "./session.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let demo: DemoIds;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
});
afterAll(() => db.close());
beforeEach(() => db.owner("rate_limits").delete());

const browser = { address: "test", oldToken: null };
const password = (who: PersonKey) =>
  signIn(db.app, { email: emailOf(people[who]), password: demoPassword, ...browser });
const tokenOf = async (who: PersonKey) => {
  const done = await password(who);
  if (!done.ok) throw new Error("not signed in");
  return done.token;
};
const halfOf = async (who: PersonKey) => {
  const done = await password(who);
  if (done.ok || done.verdict !== "second-step") throw new Error("no second step");
  return done.halfToken;
};
const step = async (who: PersonKey, typed: string, now?: number) => {
  const done = await signInWithStep(db.app, await halfOf(who), { typed, browser, ...(now ? { now } : {}) });
  return done.ok ? "in" : isSlowDown(done.verdict) ? "slow down" : done.verdict;
};
/** The moment of the tests: each code is good once, so that every test goes on from the one before. */
let now = 1_800_000_000_000;
const later = () => (now += 60_000);
const on = async (who: PersonKey) => {
  const token = await tokenOf(who);
  const secret = (await setUpSecondStep(db.app, token))?.secret ?? "";
  const codes = await confirmWith(db.app, token, codeAt(secret, later()), now);
  if (!Array.isArray(codes)) throw new Error("not confirmed");
  return { token, secret, codes };
};

describe("a second step", () => {
  it("is asked for once it is confirmed, and a password alone opens nothing then", async () => {
    const token = await tokenOf("noor");
    const begun = await setUpSecondStep(db.app, token);
    expect(begun?.uri).toContain("otpauth://totp/Gentle%20Margin");
    // Reading the page again shows the same key; until it is confirmed nothing is asked for.
    expect(await setUpSecondStep(db.app, token)).toEqual(begun);
    expect(await confirmWith(db.app, token, "000000", later())).toBe("wrong");
    expect((await password("noor")).ok).toBe(true);
    const codes = await confirmWith(db.app, token, codeAt(begun?.secret ?? "", now), now);
    expect(codes).toHaveLength(10);
    const half = await halfOf("noor");
    expect(await personOf(db.app, half)).toBeNull();
    // What is set up is not shown again, neither to the half sign-in nor to the session.
    expect(await setUpSecondStep(db.app, token)).toBeNull();
    expect(await setUpSecondStep(db.app, half)).toBeNull();
  });

  it("takes each code of the authenticator once, and none that is older", async () => {
    const { secret } = await on("gus");
    const code = codeAt(secret, later());
    expect(await step("gus", code, now)).toBe("in");
    expect(await step("gus", code, now)).toBe("wrong");
    expect(await step("gus", codeAt(secret, now - 30_000), now)).toBe("wrong");
    expect(await step("gus", codeAt(secret, later()), now)).toBe("in");
  });

  it("takes each recovery code once, however it is typed, and new ones replace the old", async () => {
    const { token, secret, codes } = await on("hana");
    const [first = "", second = ""] = codes;
    expect(await step("hana", first.replace("-", " ").toUpperCase())).toBe("in");
    expect(await step("hana", first)).toBe("wrong");
    expect((await ownSecondStep(db.app, token))?.codesLeft).toBe(9);
    expect(await confirmWith(db.app, token, codeAt(secret, later()), now)).toHaveLength(10);
    expect(await step("hana", second)).toBe("wrong");
  });

  it("may be guessed five times in a quarter of an hour, and within ten minutes of the password", async () => {
    const { secret } = await on("mirela");
    const tries = [];
    for (let count = 0; count < 6; count += 1) tries.push(await step("mirela", "123456", later()));
    expect(tries).toEqual(["wrong", "wrong", "wrong", "wrong", "wrong", "slow down"]);
    await db.owner("rate_limits").delete();
    const half = await halfOf("mirela");
    await db.owner("gate.half_sign_ins").update({ expires_at: new Date() });
    const late = await signInWithStep(db.app, half, { typed: codeAt(secret, later()), browser, now });
    expect(late).toEqual({ ok: false, verdict: "wrong" });
  });

  it("ends with a code, or by an administrator who knows the person, and not otherwise", async () => {
    const { token, secret } = await on("paloma");
    expect(await giveUpStep(db.app, token, "123456", now)).toBe("wrong");
    expect(await giveUpStep(db.app, token, codeAt(secret, later()), now)).toBe(true);
    expect((await password("paloma")).ok).toBe(true);
    await on("teo");
    const { personId } = demo.person("teo");
    const away = (who: PersonKey) =>
      inScope(db.app, demo.person(who), null, (scope) => endSecondStepHere(scope, personId));
    await expect(away("noor")).rejects.toThrow();
    expect(await away("desmond")).toBe(true);
    expect((await password("teo")).ok).toBe(true);
  });

  it("is asked of administrators and case managers where the school wants it", async () => {
    const asks = (whom: Parameters<typeof saveSecondStepFor>[1]) =>
      inScope(db.app, demo.person("desmond"), null, (scope) => saveSecondStepFor(scope, whom));
    const misses = async (who: PersonKey) => (await personOf(db.app, await tokenOf(who)))?.missesStep;
    await db.owner("gate.recovery_codes").delete();
    await db.owner("gate.second_steps").delete();
    await asks("administrators");
    expect([await misses("desmond"), await misses("noor"), await misses("ines")]).toEqual([
      true,
      false,
      false,
    ]);
    await asks("administrators and case managers");
    expect([await misses("desmond"), await misses("noor"), await misses("ines")]).toEqual([
      true,
      true,
      false,
    ]);
    await on("desmond");
    const half = await halfOf("desmond");
    expect(half).toHaveLength(43);
    await asks("nobody");
    expect(await misses("noor")).toBe(false);
  });
});

describe("the set-up code", () => {
  it("is another one at each start, and there is none once there is a school", async () => {
    expect(await makeSetUpCode(db.owner)).toBeNull();
    const empty = await openThrowaway("empty");
    try {
      const [first, second] = [await makeSetUpCode(empty.owner), await makeSetUpCode(empty.owner)];
      expect(await isSetUpCode(empty.app, hashSetUpCode(first ?? ""))).toBe(false);
      expect(await isSetUpCode(empty.app, hashSetUpCode(second ?? ""))).toBe(true);
    } finally {
      await empty.close();
    }
  });
});
