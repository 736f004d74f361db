import { describe, expect, it } from "vitest";
import { mannWhitney } from "./mann-whitney.ts";

describe("the Mann–Whitney p of two phases", () => {
  // SciPy 1.17.1: scipy.stats.mannwhitneyu(a, b, method="asymptotic", use_continuity=True).pvalue
  it.each([
    [[1, 0, 2, 1, 3, 0, 1, 2, 4, 0], [0, 0, 1, 0, 0, 0, 1], 0.059854542134100804],
    [[3, 4, 5], [1, 1, 2], 0.07652250047505922],
    [[1.5, 2, 7, 9], [1, 2, 2, 3, 8, 10, 12], 0.7748122022199504],
  ])("%j against %j", (a, b, p) => {
    expect(mannWhitney(a, b)).toBeCloseTo(p, 9);
    expect(mannWhitney(b, a)).toBeCloseTo(p, 9);
  });

  it("is null with fewer than three points in a phase, and where nothing differs", () => {
    expect(mannWhitney([1, 2], [3, 4, 5])).toBeNull();
    expect(mannWhitney([2, 2, 2], [2, 2, 2, 2])).toBeNull();
  });
});
