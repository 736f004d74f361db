import { describe, expect, it } from "vitest";
import { changeWords, rateWords } from "./rate-words.ts";
import { incidentRate, rateChange } from "./rate.ts";

const rate = (daily: number[]) => {
  const found = incidentRate(daily);
  if (!found) throw new Error("there were days");
  return found;
};

describe("a rate in words", () => {
  it("has its interval, and says where that is widened", () => {
    // 4 in 5 days: 1.0899 and 10.2416 are Garwood's limits of 4, from memory of his table.
    expect(rateWords(rate([0, 2, 1, 0, 1]))).toBe("0.80 a day (95% interval 0.22 to 2.05), 4.0 in five days");
    expect(rateWords(rate([0, 0, 9, 0, 0, 8, 0]))).toMatch(/, widened because bad days cluster\), 12\.1 in/);
  });
});

describe("a change in words", () => {
  it("says both spans, the ratio and the test", () => {
    const words = changeWords(rateChange([2, 3, 2, 4, 3, 2, 3], [0, 0, 1, 0, 0, 1, 0]));
    expect(words).toMatch(
      /^19 in 7 observed days before, 2\.71 a day; 2 in 7 since, 0\.29 a day: 0\.11 times as often\. By the ranks of the daily counts p = 0\.00\d\.$/,
    );
    expect(changeWords(rateChange([1, 0, 1, 0], [0, 1, 1, 0]))).toMatch(/: may well be chance\.$/);
  });

  it("says where nothing can be compared or tested", () => {
    expect(changeWords(null)).toMatch(/no observed school day/);
    expect(changeWords(rateChange([0, 0], [1, 1]))).toMatch(/: none before\. Too few days/);
    expect(changeWords(rateChange([0, 0, 0], [0, 0, 0]))).toMatch(
      /: none in either\. Too few days, or all alike/,
    );
  });
});
