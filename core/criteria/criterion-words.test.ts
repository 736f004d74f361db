import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { countsNeeded } from "./criterion-words.ts";

describe("the count that a percentage takes", () => {
  it("is said exactly where it is, and as the next whole count where it is not", () => {
    expect(countsNeeded(75, "increase", 8)).toBe("75% of 8 is 6 of 8");
    expect(countsNeeded(80, "increase", 8)).toBe("80% of 8 takes 7 of 8");
    expect(countsNeeded(10, "decrease", 15)).toBe("10% of 15 takes at most 1 of 15");
    expect(countsNeeded(100 / 3, "increase", 3)).toMatch(/is 1 of 3$/);
    expect(countsNeeded(80, "increase", 0)).toBeNull();
    expect(countsNeeded(Number.NaN, "increase", 5)).toBeNull();
  });

  it("meets the percentage, and one less does not", () => {
    fc.assert(
      fc.property(fc.integer({ min: 1, max: 100 }), fc.integer({ min: 1, max: 60 }), (percent, n) => {
        const k = Number(/ (\d+) of \d+$/.exec(countsNeeded(percent, "increase", n) ?? "")?.[1]);
        expect((100 * k) / n).toBeGreaterThanOrEqual(percent - 1e-9);
        expect((100 * (k - 1)) / n).toBeLessThan(percent);
      }),
    );
  });
});
