/** The figures of series of 60 points: all of them, and each method against the library that has it. */
import { TheilSenRegression } from "ml-regression-theil-sen";
import { linearRegression, linearRegressionLine, rSquared, wilcoxonRankSum } from "simple-statistics";
import { dateOfDay, dayNumber } from "#core/dates/day-number.ts";
import { fullFigures } from "#core/progress/full-figures.ts";
import { leastSquares } from "#core/progress/least-squares.ts";
import { theilSen, theilSenLine } from "#core/progress/theil-sen.ts";
import { comparePairs } from "#core/phases/nap.ts";
import { seededRandom } from "#demo/random.ts";
import { compare } from "./rounds.ts";

const length = 60;
const random = seededRandom(3);
const firstDay = dayNumber("2026-09-08");
const target = {
  ...{ direction: "increase" as const, criterion: 80, window: { k: 3, n: 4 } },
  due: "2027-06-18",
};
const series = Array.from({ length: 200 }, () =>
  Array.from({ length }, (_, at) => ({
    date: dateOfDay(firstDay + 3 * at),
    phase: at < 8 ? "baseline" : at < 34 ? "first" : "second",
    value: Math.round(10 * (2 + at / 12 + 3 * random())),
  })),
);
const points = series.map((one) =>
  one.map(({ date, value }) => ({ x: dayNumber(date) - firstDay, y: value })),
);
const xs = points.map((one) => one.map(({ x }) => x));
const ys = points.map((one) => one.map(({ y }) => y));

/** How many series a second one core does. */
async function seriesPerSecond(work: (at: number) => unknown): Promise<number> {
  const started = performance.now();
  for (let at = 0; at < series.length; at += 1) work(at);
  return Promise.resolve(series.length / ((performance.now() - started) / 1000));
}

const at = <T>(list: readonly T[], index: number): T => {
  const found = list[index];
  if (found === undefined) throw new RangeError(String(index));
  return found;
};

await compare(`Series of ${length} points in three phases a second`, [
  { name: "every figure", run: () => seriesPerSecond((one) => fullFigures(at(series, one), target)) },
  {
    name: "Theil–Sen alone, by ml-regression-theil-sen",
    run: () => seriesPerSecond((one) => new TheilSenRegression(at(xs, one), at(ys, one))),
  },
]);
await compare(`Theil–Sen, slope and intercept, ${length} points`, [
  { name: "ours", run: () => seriesPerSecond((one) => theilSenLine(at(points, one))) },
  {
    name: "ml-regression-theil-sen",
    run: () => seriesPerSecond((one) => new TheilSenRegression(at(xs, one), at(ys, one))),
  },
]);
await compare(`Theil–Sen with its interval, ${length} points`, [
  { name: "ours", run: () => seriesPerSecond((one) => theilSen(at(points, one))) },
  {
    name: "ml-regression-theil-sen, without an interval",
    run: () => seriesPerSecond((one) => new TheilSenRegression(at(xs, one), at(ys, one))),
  },
]);
await compare(`Least squares with r² and residuals, ${length} points`, [
  { name: "ours", run: () => seriesPerSecond((one) => leastSquares(at(points, one))) },
  {
    name: "simple-statistics, slope, intercept and r²",
    run: () =>
      seriesPerSecond((one) => {
        const pairs = at(points, one).map(({ x, y }) => [x, y]);
        return rSquared(pairs, linearRegressionLine(linearRegression(pairs)));
      }),
  },
]);
await compare(`Pairs of 30 against 30`, [
  {
    name: "ours",
    run: () => seriesPerSecond((one) => comparePairs(at(ys, one).slice(0, 30), at(ys, one).slice(30))),
  },
  {
    name: "simple-statistics, the rank sum",
    run: () => seriesPerSecond((one) => wilcoxonRankSum(at(ys, one).slice(0, 30), at(ys, one).slice(30))),
  },
]);
