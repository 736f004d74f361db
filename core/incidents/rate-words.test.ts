import { describe, expect, it } from "vitest";
import { dateOfDay, dayNumber } from "../dates/day-number.ts";
import { findingsEn } from "../words/en/findings.ts";
import { changeWords, rateWords } from "./rate-words.ts";
import { incidentRate, rateChange } from "./rate.ts";
import { type DayCount, weekPermutationP } from "./week-permutation.ts";

const rate = (daily: number[]) => {
  const found = incidentRate(daily);
  if (!found) throw new Error("there were days");
  return found;
};
/** School weeks of five days each, from a Monday on. */
const weeks = (from: string, daily: readonly (readonly number[])[]): DayCount[] =>
  daily.flatMap((week, at) =>
    week.map((count, day) => ({ on: dateOfDay(dayNumber(from) + 7 * at + day), count })),
  );

describe("a rate in words", () => {
  it("has its interval, and says where that is widened", () => {
    // 4 in 5 days: 1.0899 and 10.2416 are Garwood's limits of 4, from memory of his table.
    expect(rateWords(rate([0, 2, 1, 0, 1]))).toBe("0.80 a day (95% interval 0.22 to 2.05), 4.0 in five days");
    expect(rateWords(rate([0, 0, 9, 0, 0, 8, 0]))).toMatch(/, widened because bad days cluster\), 12\.1 in/);
  });
});

describe("a change in words", () => {
  const often = weeks("2026-09-07", [
    [2, 3, 2, 4, 3],
    [2, 3, 1, 2, 2],
    [3, 2, 2, 2, 3],
    [2, 2, 3, 2, 2],
  ]);
  const seldom = weeks("2026-10-05", [
    [1, 0, 1, 1, 1],
    [1, 1, 1, 0, 1],
    [1, 1, 0, 1, 1],
    [1, 0, 1, 1, 1],
  ]);

  it("says both spans, how many times as often, and the test", () => {
    expect(changeWords(rateChange(often, seldom))).toMatch(
      /^Before: 47 in 20 observed days, 2\.35 a day\. Since: 16 in 20, 0\.80 a day\. About one-third as often \(p = \.0\d\d\)\.$/,
    );
    const varied = weeks("2026-11-02", [
      [2, 0, 0, 1, 1],
      [0, 1, 1, 0, 1],
      [1, 1, 0, 1, 0],
      [1, 0, 1, 1, 1],
    ]);
    expect(changeWords(rateChange(seldom, varied))).toMatch(/less often \(p = [\d.]+, may be chance\)\.$/);
  });

  it("says where nothing can be compared or tested", () => {
    const days = (...counts: number[]) => weeks("2026-09-07", [counts]);
    expect(changeWords(null)).toMatch(/no observed school day/);
    expect(changeWords(rateChange(days(0, 0), days(1, 1)))).toMatch(
      /\. None before \(fewer than four school weeks on a side: not tested\)\.$/,
    );
    expect(changeWords(rateChange(days(0, 0, 0), days(0, 0, 0)))).toMatch(/\. None in either/);
  });

  it("names a ratio as one says it", () => {
    expect([0.34, 0.5, 2.1, 1, 0.85, 1.3, 12].map(findingsEn.times)).toEqual([
      ...["about one-third as often", "about half as often", "about twice as often", "as often"],
      ...["15% less often", "30% more often", "about 12 times as often"],
    ]);
    expect([0.0004, 0.034, 0.5].map(findingsEn.pValue)).toEqual(["p < .001", "p = .034", "p = .50"]);
  });
});

describe("the permutation of school weeks", () => {
  const flat = (from: string, counts: readonly number[]) =>
    weeks(
      from,
      counts.map((count) => [count, count, count, count, count]),
    );

  it("is near the exact p of all deals where there are few", () => {
    // Four weeks of 2 a day against four of 1: of the 70 ways to deal 8 weeks, 2 differ as much. 2/70 = 0.0286, counted by hand.
    const p = weekPermutationP(flat("2026-09-07", [2, 2, 2, 2]), flat("2026-10-05", [1, 1, 1, 1]));
    expect(p).toBeGreaterThan(0.02);
    expect(p).toBeLessThan(0.038);
  });

  it("is the same each time, and the same from either side", () => {
    const [a, b] = [flat("2026-09-07", [2, 1, 3, 2, 2]), flat("2026-10-12", [1, 1, 0, 2, 1])];
    expect(weekPermutationP(a, b)).toBe(weekPermutationP(a, b));
    expect(weekPermutationP(b, a)).toBeCloseTo(weekPermutationP(a, b) ?? 0, 1);
  });

  it("is none with fewer than four weeks a side, or where all weeks are alike", () => {
    expect(weekPermutationP(flat("2026-09-07", [2, 2, 2]), flat("2026-10-05", [1, 1, 1, 1]))).toBeNull();
    expect(weekPermutationP(flat("2026-09-07", [1, 1, 1, 1]), flat("2026-10-05", [1, 1, 1, 1]))).toBeNull();
  });

  it("does not call one bad week a change", () => {
    const bad = weekPermutationP(flat("2026-09-07", [0, 0, 5, 0]), flat("2026-10-05", [0, 0, 0, 0]));
    expect(bad).toBeGreaterThan(0.4);
  });
});
