import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { clockTime, readLengthOfTime } from "./read-time.ts";

describe("a length of time as it is typed", () => {
  it.each([
    ["4:10", 250],
    ["1:02:30", 3750],
    ["45 s", 45],
    ["4 min 10 s", 250],
    ["20min", 1200],
    ["1 h 5 min", 3900],
    ["2.5 min", 150],
    ["1,5 hours", 5400],
  ])("%s is %d seconds", (text, seconds) => expect(readLengthOfTime(text)).toBe(seconds));

  it.each(["", "20", "soon", "4:75", "min", "-3 s", "5 min ago"])("%o is none", (text) =>
    expect(readLengthOfTime(text)).toBeNull(),
  );

  it("comes back as it went", () => {
    fc.assert(
      fc.property(fc.integer({ min: 0, max: 200_000 }), (seconds) => {
        expect(readLengthOfTime(clockTime(seconds))).toBe(seconds);
      }),
    );
  });
});
