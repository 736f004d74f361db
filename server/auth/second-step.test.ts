import { Secret } from "otpauth";
import { describe, expect, it } from "vitest";
import { codeAt, counterOf, hashSetUpCode, newSetUpCode } from "./second-step.ts";

/** The secret of the examples in RFC 6238, appendix B, for SHA-1: twenty bytes of ASCII. */
const secret = Secret.fromUTF8("12345678901234567890").base32;

describe("a code", () => {
  // RFC 6238, appendix B, for SHA-1; of its eight digits the last six, as its section 5.3 of RFC 4226 shortens them.
  it.each([
    [59, "287082"],
    [1_111_111_109, "081804"],
    [1_111_111_111, "050471"],
    [1_234_567_890, "005924"],
    [2_000_000_000, "279037"],
    [20_000_000_000, "353130"],
  ])("at %i seconds is the one of RFC 6238", (seconds, code) => {
    expect(codeAt(secret, seconds * 1000)).toBe(code);
    expect(counterOf(secret, code, seconds * 1000)).toBe(Math.floor(seconds / 30));
  });

  it("is taken half a minute early and late, and no longer", () => {
    const at = 1_234_567_890_000;
    const counter = Math.floor(at / 30_000);
    expect([-60, -30, 0, 30, 60].map((s) => counterOf(secret, codeAt(secret, at + s * 1000), at))).toEqual([
      null,
      counter - 1,
      counter,
      counter + 1,
      null,
    ]);
    expect(counterOf(secret, "12345", at)).toBeNull();
    expect(counterOf(secret, "abcdef", at)).toBeNull();
  });
});

it("a code to be typed is the same however it is written", () => {
  const code = newSetUpCode();
  expect(code).toMatch(/^[2-9a-z]{5}-[2-9a-z]{5}$/);
  expect(hashSetUpCode(` ${code.replace("-", " ").toUpperCase()} `)).toEqual(hashSetUpCode(code));
  expect(newSetUpCode()).not.toBe(code);
});
