import { describe, expect, it } from "vitest";
import { isEasyPin } from "./pin.ts";

describe("a PIN", () => {
  it.each(["0000", "7777777", "1234", "9876", "45678", "1212", "7373"])(
    "like %s is too easy to guess",
    (pin) => {
      expect(isEasyPin(pin)).toBe(true);
    },
  );
  it.each(["7319", "60427", "90210384"])("like %s is not", (pin) => {
    expect(isEasyPin(pin)).toBe(false);
  });
});
