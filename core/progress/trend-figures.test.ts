import fc from "fast-check";
import { linearRegressionLine, rSquared } from "simple-statistics";
import { TheilSenRegression } from "ml-regression-theil-sen";
import { describe, expect, it } from "vitest";
import { autocorrelation } from "./autocorrelation.ts";
import { kendall } from "./kendall.ts";
import { leastSquares } from "./least-squares.ts";
import { project } from "./projection.ts";
import { type Point, theilSen } from "./theil-sen.ts";
import { weeklyMultiplier } from "./weekly-multiplier.ts";

const zip = (xs: readonly number[], ys: readonly number[]): Point[] =>
  xs.map((x, index) => ({ x, y: ys[index] ?? 0 }));
/** The series that R and SciPy were given. */
const xs = [0, 3, 7, 7, 10, 14, 17, 21, 24, 28, 31, 35];
const ys = [30, 40, 30, 45, 40, 55, 50, 50, 65, 60, 75, 70];
const series = zip(xs, ys);
const tied = zip([0, 1, 1, 1, 2, 5, 5, 9], [3, 3, 2, 5, 5, 5, 1, 8]);

const anySeries = fc
  .array(fc.record({ x: fc.integer({ min: 0, max: 200 }), y: fc.integer({ min: 1, max: 100 }) }), {
    minLength: 3,
    maxLength: 30,
  })
  .filter((points) => new Set(points.map(({ x }) => x)).size > 2);

describe("least squares", () => {
  // F. J. Anscombe (1973), Graphs in Statistical Analysis, The American Statistician 27:17–21: four data sets, one line.
  const x = [10, 8, 13, 9, 11, 14, 6, 4, 12, 7, 5];
  it.each([
    [x, [8.04, 6.95, 7.58, 8.81, 8.33, 9.96, 7.24, 4.26, 10.84, 4.82, 5.68]],
    [x, [9.14, 8.14, 8.74, 8.77, 9.26, 8.1, 6.13, 3.1, 9.13, 7.26, 4.74]],
    [x, [7.46, 6.77, 12.74, 7.11, 7.81, 8.84, 6.08, 5.39, 8.15, 6.42, 5.73]],
    [
      [8, 8, 8, 8, 8, 8, 8, 19, 8, 8, 8],
      [6.58, 5.76, 7.71, 8.84, 8.47, 7.04, 5.25, 12.5, 5.56, 7.91, 6.89],
    ],
  ])("draws the published line through Anscombe's data", (days, values) => {
    const line = leastSquares(zip(days, values));
    expect(line?.slope).toBeCloseTo(0.5, 2);
    expect(line?.intercept).toBeCloseTo(3, 1);
    expect(line?.r2).toBeCloseTo(0.667, 2);
    // Residual sum of squares 13.75 with 9 degrees of freedom.
    expect(9 * (line?.residualSd ?? 0) ** 2).toBeCloseTo(13.75, 0);
  });

  // NIST Statistical Reference Datasets, "Norris": certified values.
  it("agrees with the certified values of Norris", () => {
    const line = leastSquares(
      zip(
        [
          ...[0.2, 337.4, 118.2, 884.6, 10.1, 226.5, 666.3, 996.3, 448.6, 777, 558.2, 0.4, 0.6, 775.5, 666.9],
          ...[338, 447.5, 11.6, 556, 228.1, 995.8, 887.6, 120.2, 0.3, 0.3, 556.8, 339.1, 887.2, 999, 779],
          ...[11.1, 118.3, 229.2, 669.1, 448.9, 0.5],
        ],
        [
          ...[0.1, 338.8, 118.1, 888, 9.2, 228.1, 668.5, 998.5, 449.1, 778.9, 559.2, 0.3, 0.1, 778.1, 668.8],
          ...[339.3, 448.9, 10.8, 557.7, 228.3, 998, 888.8, 119.6, 0.3, 0.6, 557.6, 339.3, 888, 998.5, 778.9],
          ...[10.2, 117.6, 228.9, 668.4, 449.2, 0.2],
        ],
      ),
    );
    expect(line?.slope).toBeCloseTo(1.00211681802045, 11);
    expect(line?.intercept).toBeCloseTo(-0.262323073774029, 9);
    expect(line?.residualSd).toBeCloseTo(0.884796396144373, 9);
    expect(line?.r2).toBeCloseTo(0.999993745883712, 11);
  });

  // R 4.2.2: m <- lm(y ~ x); coef(m); summary(m)$r.squared; summary(m)$sigma
  it("agrees with R where two points are on one date", () => {
    const line = leastSquares(series);
    expect(line?.slope).toBeCloseTo(1.187496395409193, 11);
    expect(line?.intercept).toBeCloseTo(31.33860084203241, 10);
    expect(line?.r2).toBeCloseTo(0.8519355672987905, 11);
    expect(line?.residualSd).toBeCloseTo(5.95080472045918, 10);
  });

  it("has no r² where nothing varies, no residual with two points, and nothing at all on one date", () => {
    expect(leastSquares(zip([0, 7, 14], [40, 40, 40]))).toMatchObject({ slope: 0, r2: null, residualSd: 0 });
    expect(leastSquares(zip([0, 7], [40, 47]))).toMatchObject({ slope: 1, residualSd: null });
    expect(leastSquares(zip([3, 3, 3], [1, 2, 3]))).toBeNull();
    expect(leastSquares([])).toBeNull();
    // On a line of thirds floating point alone is left, and that is no residual.
    expect(leastSquares(zip([0, 7, 14, 21], [10, 13 + 1 / 3, 16 + 2 / 3, 20]))?.residualSd).toBe(0);
  });

  it("holds as much of the variance as simple-statistics says, and turns with its data", () => {
    fc.assert(
      fc.property(anySeries, (points) => {
        const line = leastSquares(points);
        if (!line || line.r2 === null) return;
        const pairs = points.map(({ x: day, y }) => [day, y]);
        expect(line.r2).toBeCloseTo(
          rSquared(pairs, linearRegressionLine({ m: line.slope, b: line.intercept })),
          8,
        );
        const mirrored = leastSquares(points.map(({ x: day, y }) => ({ x: day, y: 100 - 2 * y })));
        expect(mirrored?.slope).toBeCloseTo(-2 * line.slope, 8);
        expect(mirrored?.r2).toBeCloseTo(line.r2, 8);
        expect(mirrored?.residualSd).toBeCloseTo(2 * (line.residualSd ?? 0), 6);
      }),
    );
  });
});

describe("Theil–Sen against the library ml-regression-theil-sen", () => {
  // Of an even number of slopes the library takes the lower middle one, not the median: it is asked with odd numbers only.
  it("has the same slope where no two points are on one day", () => {
    fc.assert(
      fc.property(anySeries, (all) => {
        const points = [...new Map(all.map((point) => [point.x, point])).values()];
        fc.pre([2, 3].includes(points.length % 4));
        const other = new TheilSenRegression(
          points.map(({ x }) => x),
          points.map(({ y }) => y),
        );
        expect(theilSen(points)?.slope).toBeCloseTo(other.slope, 9);
      }),
    );
  });

  // SciPy 1.17.1: scipy.stats.theilslopes(y, x, 0.95)
  it("agrees with SciPy on the series", () => {
    const fit = theilSen(series);
    expect(fit?.slope).toBeCloseTo(1.1904761904761905, 12);
    expect(fit?.intercept).toBeCloseTo(31.547619047619047, 12);
    expect([fit?.low, fit?.high]).toEqual([0.8, 1.4516129032258065]);
  });
});

describe("Kendall", () => {
  // R 4.2.2: cor.test(x, y, method = "kendall", exact = FALSE, continuity = TRUE)
  it.each([
    [series, 0.7813453848974924, 0.0006945092131695613],
    [tied, 0.3333333333333334, 0.3520707959174027],
  ])("agrees with R, ties in both included", (points, tauB, p) => {
    const found = kendall(points);
    expect(found?.tauB).toBeCloseTo(tauB, 12);
    expect(found?.p).toBeCloseTo(p, 10);
  });

  it("says nothing on one date, and gives no p where nothing varies", () => {
    expect(kendall([])).toBeNull();
    expect(kendall(zip([2, 2], [1, 5]))).toBeNull();
    expect(kendall(zip([0, 1, 2], [4, 4, 4]))).toEqual({ s: 0, tauB: null, p: null });
    expect(kendall(zip([0, 1], [4, 9]))).toMatchObject({ s: 1, tauB: 1, p: 1 });
  });

  it("does not feel what keeps the order, and turns with the direction", () => {
    fc.assert(
      fc.property(anySeries, (points) => {
        const found = kendall(points);
        expect(kendall(points.map(({ x, y }) => ({ x: x ** 2, y: Math.log(y) })))).toEqual(found);
        const mirrored = kendall(points.map(({ x, y }) => ({ x, y: -y })));
        expect((mirrored?.s ?? 0) + (found?.s ?? 0)).toBe(0);
        expect(mirrored?.p).toBe(found?.p);
      }),
    );
  });
});

describe("the weekly multiplier", () => {
  // R 4.2.2: 10^(7 * coef(lm(log10(z) ~ x))[2])
  it("agrees with R, and with a count that doubles each week", () => {
    const points = zip([0, 4, 7, 11, 14, 18, 21, 25], [8, 10, 9, 14, 16, 15, 21, 24]);
    expect(weeklyMultiplier(points)).toBeCloseTo(1.362179046860023, 11);
    expect(weeklyMultiplier(zip([0, 7, 14], [3, 6, 12]))).toBeCloseTo(2, 12);
  });

  it("does not feel another unit of count, and has nothing to say of zero", () => {
    fc.assert(
      fc.property(anySeries, (points) => {
        const tenfold = weeklyMultiplier(points.map(({ x, y }) => ({ x, y: 10 * y })));
        expect(tenfold).toBeCloseTo(weeklyMultiplier(points) ?? NaN, 6);
      }),
    );
    expect(weeklyMultiplier(zip([0, 7], [0, 6]))).toBeNull();
    expect(weeklyMultiplier(zip([7, 7], [3, 6]))).toBeNull();
  });
});

describe("lag-1 autocorrelation", () => {
  // R 4.2.2: acf(lh, lag.max = 1); acf(y, lag.max = 1). `lh` comes with R: P. J. Diggle (1990), Time Series, table A.1.
  it("agrees with R on its hormone series and on ours", () => {
    const lh = [
      ...[2.4, 2.4, 2.4, 2.2, 2.1, 1.5, 2.3, 2.3, 2.5, 2.0, 1.9, 1.7, 2.2, 1.8, 3.2, 3.2, 2.7, 2.2, 2.2, 1.9],
      ...[1.9, 1.8, 2.7, 3.0, 2.3, 2.0, 2.0, 2.9, 2.9, 2.7, 2.7, 2.3, 2.6, 2.4, 1.8, 1.7, 1.5, 1.4, 2.1, 3.3],
      ...[3.5, 3.5, 3.1, 2.6, 2.1, 3.4, 3.0, 2.9],
    ];
    expect(autocorrelation(lh)).toBeCloseTo(0.5755244755244755, 12);
    expect(autocorrelation(ys)).toBeCloseTo(0.5815911730545876, 12);
  });

  it("needs three values that differ, and feels the order", () => {
    expect(autocorrelation([1, 2])).toBeNull();
    expect(autocorrelation([5, 5, 5, 5])).toBeNull();
    expect(autocorrelation([1, 9, 1, 9, 1, 9])).toBeLessThan(-0.5);
    expect(autocorrelation([1, 1, 1, 9, 9, 9])).toBeGreaterThan(0.4);
  });
});

describe("the projection", () => {
  const line = leastSquares(series);
  const at = (x: number, criterion: number | null = 80, direction: "increase" | "decrease" = "increase") =>
    line && project(series, line, x, { criterion, direction });

  // R 4.2.2: predict(m, data.frame(x = 49), interval = "prediction", level = 0.8); 1 - pt((80 - fit) / se, 10)
  it("agrees with R's prediction interval and its chance", () => {
    expect(at(49)?.mean).toBeCloseTo(89.52592421708287, 9);
    expect(at(49)?.low80).toBeCloseTo(78.51568962637677, 6);
    expect(at(49)?.high80).toBeCloseTo(100.536158807789, 6);
    expect(at(49)?.probability).toBeCloseTo(0.8687071959462953, 8);
    expect(at(49, 80, "decrease")?.probability).toBeCloseTo(1 - 0.8687071959462953, 8);
  });

  it("expects the criterion on the first day that the line meets it", () => {
    // 31.3386 + 1.1875 x ≥ 80 from x = 40.98 on.
    expect(at(49)?.expectedAt).toBe(41);
    expect(at(49, 60)?.expectedAt).toBe(35);
    expect(at(49, 20, "decrease")?.expectedAt).toBeNull();
    expect(at(49, 31.3386 + 1.1875 * 800)?.expectedAt).toBeNull();
    expect(at(49, null)).toMatchObject({ probability: null, expectedAt: null });
  });

  it("gives no interval and no chance where every point lies on the line", () => {
    const exact = zip([0, 1, 2, 3, 4, 5], [10, 20, 30, 40, 50, 60]);
    const through = leastSquares(exact);
    const found = through && project(exact, through, 7, { criterion: 80, direction: "increase" });
    expect(found).toEqual({ mean: 80, low80: null, high80: null, probability: null, expectedAt: 7 });
  });

  it("needs six points on three days", () => {
    const few = (points: Point[]) => {
      const through = leastSquares(points);
      return through && project(points, through, 30, { criterion: 80, direction: "increase" });
    };
    expect(few(series.slice(0, 5))).toBeNull();
    expect(few(zip([0, 0, 0, 7, 7, 7], [1, 2, 3, 4, 5, 6]))).toBeNull();
    expect(few(series.slice(0, 6))).not.toBeNull();
  });
});
