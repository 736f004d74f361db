import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { demoPassword, emailOf, people } from "#demo/school.ts";
import { openThrowaway } from "#tests/database.ts";
import { notePasskeyUse, setChallenge, takeChallenge } from "../db/passkeys.ts";
import { addPasskey, askForPasskey, askToSignIn, signInWithPasskey } from "./passkeys.ts";
import { hashToken, newToken, signIn } from "./session.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
beforeAll(async () => {
  db = await openThrowaway("demo");
});
afterAll(() => db.close());

const origin = "http://localhost";
const browser = { address: "test", oldToken: null };
const token = async () => {
  const done = await signIn(db.app, { email: emailOf(people.gus), password: demoPassword, ...browser });
  return done.ok ? done.token : "";
};

describe("a passkey", () => {
  it("is asked for only with the current password, for this site and with the owner verified", async () => {
    const mine = await token();
    expect(await askForPasskey(db.app, mine, { origin, password: "guess" })).toBe("wrong");
    const asked = await askForPasskey(db.app, mine, { origin, password: demoPassword });
    expect(asked).toMatchObject({
      options: {
        ...{ rp: { id: "localhost" }, user: { name: emailOf(people.gus) } },
        authenticatorSelection: { residentKey: "required", userVerification: "required" },
      },
    });
    expect((await askToSignIn(db.app, null, origin)).options).toMatchObject({
      ...{ rpId: "localhost", userVerification: "required" },
    });
  });

  it("answers to a challenge of ours, within five minutes, once", async () => {
    const challenge = newToken();
    await setChallenge(db.app, hashToken(challenge), "abc");
    expect(await takeChallenge(db.app, hashToken(challenge))).toBe("abc");
    expect(await takeChallenge(db.app, hashToken(challenge))).toBeNull();
    await setChallenge(db.app, hashToken(challenge), "abc");
    await db.owner("gate.challenges").update({ expires_at: new Date() });
    expect(await takeChallenge(db.app, hashToken(challenge))).toBeNull();
  });

  it("that is made up adds and opens nothing", async () => {
    const asked = await askForPasskey(db.app, await token(), { origin, password: demoPassword });
    if (asked === "wrong" || !("challengeToken" in asked)) throw new Error("not asked");
    const made = {
      ...{ id: "AAAA", rawId: "AAAA", type: "public-key", clientExtensionResults: {} },
      response: { clientDataJSON: "e30", attestationObject: "oA", authenticatorData: "AA", signature: "AA" },
    } as never;
    const { challengeToken } = asked;
    expect(
      await addPasskey(db.app, await token(), { challengeToken, response: made, name: "x", origin }),
    ).toBe(false);
    const { challengeToken: next } = await askToSignIn(db.app, null, origin);
    expect(
      await signInWithPasskey(db.app, { challengeToken: next, response: made, origin, browser }),
    ).toEqual({ ok: false, verdict: "wrong" });
  });

  it("whose counter does not grow is a copy, unless its device does not count", async () => {
    const [account] = await db
      .owner<{ account_id: string; email: string }>("gate.accounts")
      .where({ email: emailOf(people.gus) });
    const key = (credential_id: string, counter: number) =>
      db.owner("gate.passkeys").insert({
        ...{ credential_id, account_id: account?.account_id, public_key: Buffer.from("k"), counter },
        ...{ transports: [], name: "tablet" },
      });
    await key("counts", 5);
    await key("counts-not", 0);
    expect([await notePasskeyUse(db.app, "counts", 6), await notePasskeyUse(db.app, "counts", 6)]).toEqual([
      true,
      false,
    ]);
    expect([
      await notePasskeyUse(db.app, "counts-not", 0),
      await notePasskeyUse(db.app, "counts-not", 0),
    ]).toEqual([true, true]);
    // With a passkey a password alone opens nothing.
    const done = await signIn(db.app, { email: emailOf(people.gus), password: demoPassword, ...browser });
    expect(done).toMatchObject({ ok: false, verdict: "second-step" });
  });
});
