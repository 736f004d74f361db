import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { countAgreement } from "./count-agreement.ts";
import { durationAgreement } from "./duration-agreement.ts";
import { intervalAgreement } from "./interval-agreement.ts";
import { kappa } from "./kappa.ts";
import { trialAgreement } from "./trial-agreement.ts";

const counts = fc.array(fc.tuple(fc.nat(30), fc.nat(30)), { minLength: 1, maxLength: 40 });
const mark = fc.constantFrom("0" as const, "1" as const);
const marks = fc.array(fc.tuple(mark, mark), { minLength: 1, maxLength: 60 });
const swapped = <T>(pairs: readonly (readonly [T, T])[]) => pairs.map(([a, b]) => [b, a] as const);

describe("kappa", () => {
  /*
   * The worked example of a 2 × 2 table found in most textbooks after Cohen (1960): 20 both yes, 15 both no, 5 and 10
   * apart; pₒ = 0.70, pₑ = 0.50, kappa = 0.40. Checked by hand.
   */
  it("is 0.40 for 20, 5, 10 and 15 of 50", () => {
    const cell = (n: number, a: string, b: string) =>
      Array.from({ length: n }, (): [string, string] => [a, b]);
    const pairs = [...cell(20, "y", "y"), ...cell(5, "y", "n"), ...cell(10, "n", "y"), ...cell(15, "n", "n")];
    expect(kappa(pairs).value).toBeCloseTo(0.4, 12);
    expect(trialAgreement(pairs).trialByTrial.value).toBeCloseTo(70, 12);
  });

  it("is 1 for full agreement on two labels, negative below chance, null where only one label was given", () => {
    expect(
      kappa([
        ["a", "a"],
        ["b", "b"],
      ]).value,
    ).toBe(1);
    expect(
      kappa([
        ["a", "b"],
        ["b", "a"],
      ]).value,
    ).toBe(-1);
    expect(
      kappa([
        ["a", "a"],
        ["a", "a"],
      ]),
    ).toEqual({ value: null, why: "both gave every unit the same label" });
    expect(kappa([])).toEqual({ value: null, why: "no units" });
    // One of them saw nothing at all: agreement is exactly what chance gives.
    expect(
      kappa([
        ["1", "0"],
        ["0", "0"],
      ]).value,
    ).toBe(0);
  });

  it("does not change when observers or labels change places", () => {
    fc.assert(
      fc.property(marks, (pairs) => {
        const value = kappa(pairs).value;
        const flip = (label: string) => (label === "1" ? "0" : "1");
        const others = [kappa(swapped(pairs)).value, kappa(pairs.map(([a, b]) => [flip(a), flip(b)])).value];
        for (const other of others) {
          if (value === null) expect(other).toBeNull();
          else expect(other).toBeCloseTo(value, 10);
        }
      }),
    );
  });
});

describe("agreement on counts", () => {
  it("is total, mean and exact count per interval", () => {
    const made = countAgreement([
      [1, 1],
      [2, 1],
      [0, 0],
      [3, 3],
    ]);
    expect(made.totalCount.value).toBeCloseTo((100 * 5) / 6, 10);
    expect(made.meanCountPerInterval.value).toBe(87.5);
    expect(made.exactCountPerInterval.value).toBe(75);
  });

  it("can be full in total where no interval agrees: that is why all three are shown", () => {
    const made = countAgreement([
      [3, 0],
      [0, 3],
    ]);
    expect(
      [made.totalCount, made.meanCountPerInterval, made.exactCountPerInterval].map(({ value }) => value),
    ).toEqual([100, 0, 0]);
  });

  it("is never above what the observers' order could change, nor outside 0–100; exact is never above mean", () => {
    fc.assert(
      fc.property(counts, (pairs) => {
        const [one, other] = [countAgreement(pairs), countAgreement(swapped(pairs))];
        expect(other).toEqual(one);
        for (const { value } of Object.values(one))
          expect(value).toSatisfy((v: number) => v >= 0 && v <= 100);
        expect(one.exactCountPerInterval.value).toBeLessThanOrEqual(
          (one.meanCountPerInterval.value ?? 0) + 1e-9,
        );
      }),
    );
    expect(countAgreement([]).totalCount.value).toBeNull();
  });
});

describe("agreement on intervals", () => {
  it("counts all, the scored and the unscored intervals", () => {
    const made = intervalAgreement([
      ["1", "1"],
      ["1", "0"],
      ["0", "0"],
      ["0", "0"],
    ]);
    expect(made.intervalByInterval.value).toBe(75);
    expect(made.scoredInterval.value).toBe(50);
    expect(made.unscoredInterval.value).toBeCloseTo(200 / 3, 10);
    expect(made.kappa.value).toBeCloseTo(0.5, 12);
  });

  it("has no scored-interval agreement where neither saw anything", () => {
    const made = intervalAgreement([
      ["0", "0"],
      ["0", "0"],
    ]);
    expect(made.scoredInterval).toEqual({ value: null, why: "no interval was scored by either" });
    expect(made.unscoredInterval.value).toBe(100);
    expect(made.kappa.value).toBeNull();
  });
});

describe("agreement on durations", () => {
  it("is total duration and the mean over the occurrences; a missed one agrees with nothing", () => {
    const made = durationAgreement([
      [60, 60],
      [30, 20],
    ]);
    expect(made.totalDuration.value).toBeCloseTo((100 * 80) / 90, 10);
    expect(made.meanDurationPerOccurrence.value).toBeCloseTo(250 / 3, 10);
    expect(durationAgreement([[60, 0]]).meanDurationPerOccurrence.value).toBe(0);
    expect(durationAgreement([[0, 0]]).totalDuration.value).toBe(100);
    expect(durationAgreement([]).totalDuration.value).toBeNull();
  });
});
