import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { ranked } from "./ranked.ts";
import { type Point, theilSen } from "./theil-sen.ts";

const zip = (xs: number[], ys: number[]): Point[] => xs.map((x, index) => ({ x, y: ys[index] ?? 0 }));

describe("theilSen", () => {
  // SciPy 1.10.1: scipy.stats.theilslopes(y, x, 0.95)
  it("agrees with SciPy, ties in both directions included", () => {
    const fit = theilSen(zip([0, 2, 2, 7, 9, 14, 16, 21, 23, 28], [30, 40, 30, 50, 40, 50, 40, 60, 60, 70]));
    expect(fit?.slope).toBeCloseTo(1.4285714285714286, 12);
    expect(fit?.intercept).toBeCloseTo(28.57142857142857, 12);
    expect(fit?.low).toBeCloseTo(0.625, 12);
    expect(fit?.high).toBeCloseTo(1.6666666666666667, 12);
    const short = theilSen(zip([0, 3, 7, 10, 14], [20, 35, 35, 50, 42]));
    expect(short).toMatchObject({ intercept: 22, low: -2, high: 5 });
    expect(short?.slope).toBeCloseTo(1.8571428571428572, 12);
  });

  it("is not swung by one bad day", () => {
    expect(theilSen(zip([0, 1, 2, 3, 4, 5, 6], [10, 20, 30, 0, 50, 60, 70]))?.slope).toBe(10);
  });

  it("needs two different dates, and five points for an interval", () => {
    expect(theilSen([])).toBeNull();
    expect(theilSen(zip([3, 3, 3], [1, 2, 3]))).toBeNull();
    expect(theilSen(zip([0, 1, 2, 3], [1, 2, 3, 4]))).toMatchObject({ slope: 1, low: null, high: null });
  });

  it("gives no interval where nothing varies", () => {
    expect(theilSen(zip([0, 0, 0, 0, 1], [5, 5, 5, 5, 5]))).toMatchObject({
      slope: 0,
      low: null,
      high: null,
    });
  });

  const series = fc.array(
    fc.record({ x: fc.integer({ min: 0, max: 200 }), y: fc.integer({ min: 0, max: 100 }) }),
    { minLength: 2, maxLength: 30 },
  );

  it("moves with its data: shifted values leave the slope, scaled and mirrored ones scale and mirror it", () => {
    fc.assert(
      fc.property(series, fc.integer({ min: -50, max: 50 }), (points, by) => {
        const fit = theilSen(points);
        if (!fit) return;
        const moved = theilSen(points.map(({ x, y }) => ({ x, y: y + by })));
        const doubled = theilSen(points.map(({ x, y }) => ({ x, y: 2 * y })));
        const mirrored = theilSen(points.map(({ x, y }) => ({ x, y: -y })));
        expect(moved?.slope).toBeCloseTo(fit.slope, 9);
        expect(moved?.intercept).toBeCloseTo(fit.intercept + by, 9);
        expect(doubled?.slope).toBeCloseTo(2 * fit.slope, 9);
        expect(mirrored?.slope).toBeCloseTo(-fit.slope, 9);
      }),
    );
  });

  it("has its slope within its interval", () => {
    fc.assert(
      fc.property(series, (points) => {
        const fit = theilSen(points);
        if (fit?.low === null || fit?.high === null || !fit) return;
        expect(fit.low).toBeLessThanOrEqual(fit.slope);
        expect(fit.high).toBeGreaterThanOrEqual(fit.slope);
      }),
    );
  });
});

describe("ranked", () => {
  it("finds what sorting finds, however many are equal, and parts the list there", () => {
    const lists = fc.oneof(
      fc.array(fc.integer({ min: 0, max: 6 }), { minLength: 1, maxLength: 2000, size: "max" }),
      // Sorting parts −0 from 0, which are one number: adding 0 makes them one here too.
      fc.array(
        fc.double({ noNaN: true }).map((value) => value + 0),
        { minLength: 1, maxLength: 2000, size: "max" },
      ),
    );
    fc.assert(
      fc.property(lists, fc.nat(), (list, any) => {
        const values = Float64Array.from(list);
        const rank = any % list.length;
        const found = ranked(values, rank, 0, list.length - 1);
        expect(found).toBe(Float64Array.from(list).sort()[rank]);
        expect(values.subarray(0, rank).every((value) => value <= found)).toBe(true);
        expect(values.subarray(rank).every((value) => value >= found)).toBe(true);
      }),
      { numRuns: 60 },
    );
  });
});
