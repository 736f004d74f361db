import { describe, expect, it } from "vitest";
import { timeOfDay } from "./dates.ts";

describe("a time of day", () => {
  it.each(["29:10", "10:75", "99:99", "9:5", "arts", ""])(
    "that is none, like “%s”, is left as it is",
    (time) => {
      expect(timeOfDay(time)).toBe(time);
    },
  );

  it("is written as the locale has it", () => {
    expect([timeOfDay("00:05"), timeOfDay("23:59")].map((one) => one.replace("\u00a0", " "))).toEqual([
      "12:05 AM",
      "11:59 PM",
    ]);
  });
});
