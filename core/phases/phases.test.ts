import fc from "fast-check";
import { wilcoxonRankSum } from "simple-statistics";
import { describe, expect, it } from "vitest";
import { comparePhases } from "./compare-phases.ts";
import { logRatio } from "./log-ratio.ts";
import { nap } from "./nap.ts";
import { pem, pnd } from "./overlap.ts";
import { phaseStatistics } from "./phase-statistics.ts";
import { tau, tauU } from "./tau.ts";

const before = [20, 35, 30, 25];
const after = [30, 45, 50, 40, 60];
const dated = (values: readonly number[], from = 1) =>
  values.map((value, at) => ({ date: `2026-10-${String(from + at).padStart(2, "0")}`, value }));
const values = fc.array(fc.integer({ min: 0, max: 20 }), { minLength: 1, maxLength: 15 });

describe("NAP", () => {
  // R 4.2.2: wilcox.test(b, a, exact = FALSE)$statistic / (length(a) * length(b))
  it("is the share of pairs that R's rank test counts", () => {
    expect(nap(before, after)?.nap).toBeCloseTo(0.925, 12);
  });

  // SciPy 1.17.1: scipy.optimize.brentq on (t - nap)^2 - z^2 t (1 - t) (1 + h (1 - t)/(2 - t) + h t/(1 + t))/(m n), z = 1.959964
  it.each([
    [before, after, 0.5255267879631969, 0.9915983210770042],
    [[1, 2, 3, 4, 5, 6, 7, 8, 9, 10], [5, 6, 5, 6, 5, 6, 5, 6], 0.262627766433305, 0.737372233566695],
    [[1, 2, 3], [4, 5, 6, 7, 8, 9, 10], 0.6001082436720824, 1],
  ])("has the interval that solves its equation", (a, b, low, high) => {
    expect(nap(a, b)?.low).toBeCloseTo(low, 9);
    expect(nap(a, b)?.high).toBeCloseTo(high, 9);
  });

  it("has no interval with one point in a phase, and is not there without one", () => {
    expect(nap([1], [2, 3])).toEqual({ nap: 1, low: null, high: null });
    expect(nap([], [2, 3])).toBeNull();
    expect(nap([5, 6], [1, 2])).toMatchObject({ nap: 0, low: 0 });
  });

  it("agrees with the rank sums of simple-statistics, and turns round with the phases", () => {
    fc.assert(
      fc.property(values, values, (a, b) => {
        const found = nap(a, b);
        const u = wilcoxonRankSum(b, a) - (b.length * (b.length + 1)) / 2;
        expect(found?.nap).toBeCloseTo(u / (a.length * b.length), 9);
        const turned = nap(b, a);
        expect(turned?.nap).toBeCloseTo(1 - (found?.nap ?? NaN), 9);
        expect(tau(a, b)).toBeCloseTo(2 * (found?.nap ?? NaN) - 1, 9);
        if (found?.low == null || found.high === null) return;
        expect(turned?.high).toBeCloseTo(1 - found.low, 7);
        expect(found.low).toBeLessThanOrEqual(found.nap);
        expect(found.high).toBeGreaterThanOrEqual(found.nap);
        expect(found.low).toBeGreaterThanOrEqual(0);
        expect(found.high).toBeLessThanOrEqual(1);
      }),
    );
  });
});

describe("Tau-U", () => {
  // R. I. Parker, K. J. Vannest, J. L. Davis & S. B. Sauber (2011), Behavior Therapy 42:284–299, the short series of its worked
  // example, from memory: 16 of 20 before–after pairs, 3 for the trend before.
  it("takes the trend before from the pairs, as in the published example", () => {
    const [a, b] = [dated([2, 3, 5, 3]), dated([4, 5, 5, 7, 6], 10)];
    expect(tau([2, 3, 5, 3], [4, 5, 5, 7, 6])).toBeCloseTo(0.8, 12);
    expect(tauU(a, b)).toBeCloseTo(13 / 20, 12);
  });

  it("leaves pairs of one date out of the trend before, is not clipped, and feels the order before", () => {
    const sameDay = [2, 3, 5, 3].map((value) => ({ date: "2026-10-01", value }));
    expect(tauU(sameDay, dated([4, 5, 5, 7, 6], 10))).toBeCloseTo(0.8, 12);
    expect(tauU(dated([9, 6, 3]), dated([20], 10))).toBeCloseTo(2, 12);
    expect(tauU(dated([3, 6, 9]), dated([20], 10))).toBeCloseTo(0, 12);
    expect(tauU([], dated([20]))).toBeNull();
  });
});

describe("PND and PEM", () => {
  it("count what lies beyond the best and the median before", () => {
    expect(pnd(before, after)).toBe(80);
    // Median 27.5; every later point is above it.
    expect(pem(before, after)).toBe(100);
    // Strictly beyond the best; on the median counts half.
    expect(pnd([1, 2, 3], [3, 4])).toBe(50);
    expect(pem([1, 2, 3], [2, 4, 1])).toBe(50);
    expect([pnd([], [1]), pem([1], [])]).toEqual([null, null]);
  });
});

describe("the log response ratio", () => {
  // R 4.2.2: log(mean(b)/mean(a)) + var(b)/(2*5*mean(b)^2) - var(a)/(2*4*mean(a)^2), and its standard error
  it("agrees with R", () => {
    const found = logRatio(before, after);
    expect(found?.ratio).toBeCloseTo(0.4917622722623692, 12);
    expect(found?.se).toBeCloseTo(0.1616161616161616, 12);
    expect(found?.percentChange).toBeCloseTo(63.5195341706305, 9);
  });

  it("is not there below 0, with a mean of 0, or with one point", () => {
    expect(logRatio([-1, 2], [3, 4])).toBeNull();
    expect(logRatio([0, 0], [3, 4])).toBeNull();
    expect(logRatio([1], [3, 4])).toBeNull();
    expect(logRatio([0, 1], [3, 4])).not.toBeNull();
  });
});

describe("the statistics of a phase", () => {
  // R 4.2.2: mean(b); sd(b)
  it("agree with R", () => {
    expect(phaseStatistics(after)).toEqual({
      ...{ n: 5, mean: 45, median: 45, min: 30, max: 60 },
      sd: expect.closeTo(11.18033988749895, 12) as number,
    });
    expect(phaseStatistics([7])?.sd).toBeNull();
    expect(phaseStatistics([])).toBeNull();
  });
});

describe("two phases compared", () => {
  it("turn what is better round with the direction, and leave what is raw", () => {
    fc.assert(
      fc.property(values, values, (a, b) => {
        const [first, second] = [
          { name: "before", points: dated(a.slice(0, 9)) },
          { name: "after", points: dated(b.slice(0, 9), 15) },
        ];
        const up = comparePhases(first, second, "increase");
        const down = comparePhases(first, second, "decrease");
        expect(down.nap).toBeCloseTo(1 - (up.nap ?? NaN), 9);
        expect(down.tau).toBeCloseTo(-(up.tau ?? NaN), 9);
        expect(down.tauU).toBeCloseTo(-(up.tauU ?? NaN), 9);
        expect(down.pairs).toEqual({
          better: up.pairs.worse,
          equal: up.pairs.equal,
          worse: up.pairs.better,
        });
        expect([down.mannWhitneyP, down.logRatio, down.percentChange]).toEqual([
          up.mannWhitneyP,
          up.logRatio,
          up.percentChange,
        ]);
      }),
    );
  });

  it("say the same of values moved up together, but for the ratio", () => {
    fc.assert(
      fc.property(values, values, (a, b) => {
        const moved = (all: readonly number[]) => all.map((value) => value + 7);
        const plain = comparePhases(
          { name: "a", points: dated(a) },
          { name: "b", points: dated(b, 16) },
          "increase",
        );
        const up = comparePhases(
          { name: "a", points: dated(moved(a)) },
          { name: "b", points: dated(moved(b), 16) },
          "increase",
        );
        expect({ ...up, logRatio: 0, logRatioSe: 0, percentChange: 0 }).toEqual({
          ...plain,
          ...{ logRatio: 0, logRatioSe: 0, percentChange: 0 },
        });
      }),
    );
  });
});
