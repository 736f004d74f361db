import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { wilsonInterval } from "./wilson-interval.ts";

describe("wilsonInterval", () => {
  // SciPy 1.10.1: scipy.stats.binomtest(k, n).proportion_ci(method="wilson").
  // 81/263, 15/148, 0/20 and 1/29 are also the worked examples of R. G. Newcombe (1998), Statistics in Medicine 17:857–872,
  // method 3: 0.2553–0.3662, 0.0624–0.1605, 0.0000–0.1611, 0.0061–0.1718 (from memory).
  it.each([
    [7, 10, 0.39677814746114526, 0.892208732593699],
    [0, 20, 0, 0.16112515805281935],
    [1, 29, 0.006113214292762667, 0.17175521879320282],
    [15, 148, 0.06238639953073629, 0.16048724172330803],
    [81, 263, 0.2552885198782742, 0.36620957698280004],
    [10, 10, 0.7224672001371109, 1],
  ])("of %i of %i agrees with SciPy and the published examples", (k, n, low, high) => {
    const [ourLow, ourHigh] = wilsonInterval(k, n);
    expect(ourLow).toBeCloseTo(low, 7);
    expect(ourHigh).toBeCloseTo(high, 7);
  });

  it("holds the proportion, stays within 0 … 1 and mirrors when hits and misses change places", () => {
    const counts = fc
      .integer({ min: 1, max: 400 })
      .chain((n) => fc.tuple(fc.integer({ min: 0, max: n }), fc.constant(n)));
    fc.assert(
      fc.property(counts, ([k, n]) => {
        const [low, high] = wilsonInterval(k, n);
        const [mirroredLow, mirroredHigh] = wilsonInterval(n - k, n);
        expect(low).toBeGreaterThanOrEqual(0);
        expect(high).toBeLessThanOrEqual(1);
        expect(low).toBeLessThanOrEqual(k / n);
        expect(high).toBeGreaterThanOrEqual(k / n);
        expect(1 - mirroredHigh).toBeCloseTo(low, 10);
        expect(1 - mirroredLow).toBeCloseTo(high, 10);
      }),
    );
  });

  it("is undefined without opportunities and for impossible counts", () => {
    for (const [k, n] of [
      [0, 0],
      [3, 2],
      [-1, 5],
      [1.5, 5],
      [1, Number.NaN],
    ] as const)
      expect(() => wilsonInterval(k, n)).toThrow(RangeError);
  });
});
