import { describe, expect, it } from "vitest";
import type { Measure, ObservedEntry } from "../measures/measure.ts";
import { compareObservers } from "./compare-observers.ts";

const compare = (measure: Measure, first: ObservedEntry, second: ObservedEntry, secondsLater = 0) =>
  compareObservers(measure, { entry: first, at: 0 }, { entry: second, at: secondsLater * 1000 });

/** The figures by the names under which they are shown. */
const shown = (compared: ReturnType<typeof compare>) =>
  Object.fromEntries((compared?.figures ?? []).map(({ words, shown }) => [words, shown]));

// The formulas are those of Cooper, Heron & Heward (2020), Applied Behavior Analysis, ch. 5; kappa of Cohen (1960).
// The figures are worked out by hand from them.
describe("two observers compared", () => {
  it("trial by trial, in the words of a trial", () => {
    const trials = (sequence: string): ObservedEntry => ({
      kind: "trials",
      correct: [...sequence].filter((mark) => mark === "1").length,
      attempted: sequence.length,
      sequence,
    });
    const compared = compare({ kind: "trials" }, trials("1100"), trials("1000"));
    expect(compared).toMatchObject({ said: "75% trial by trial, 4 units", value: 75, units: 4 });
    // Both say correct by chance 2/4 × 1/4, both missed 2/4 × 3/4: (0.75 − 0.5) / (1 − 0.5).
    expect(shown(compared)).toMatchObject({ "trial by trial": "75%", "Cohen’s kappa": "0.50" });
    expect(compared?.rows.slice(0, 2)).toEqual([
      { unit: "1", first: "correct", second: "correct", agree: true },
      { unit: "2", first: "correct", second: "missed", agree: false },
    ]);
  });

  it("of counts by windows of the clock, said first by the mean of the windows", () => {
    const count = (atSeconds: number[]): ObservedEntry => ({
      kind: "count",
      count: atSeconds.length,
      atSeconds,
      observedSeconds: 100,
    });
    const compared = compare({ kind: "count", per: "minute" }, count([5, 25, 26]), count([5, 25]));
    // Ten windows of ten seconds: nine alike at 100, one of 1 against 2.
    expect(compared?.value).toBe(95);
    expect(shown(compared)).toMatchObject({
      "mean count per interval": "95%",
      "exact count per interval": "90%",
      "total count": "67%",
    });
    expect(compared?.rows[2]).toEqual({ unit: "from 0:20", first: "2", second: "1", agree: false });
  });

  it("of a rubric under the names of its criteria", () => {
    const rubric: Measure = {
      kind: "rubric",
      criteria: [{ id: "a", label: "Opens with a sentence", max: 4 }],
    };
    const scored = (a: number): ObservedEntry => ({ kind: "rubric", levels: { a } });
    const compared = compare(rubric, scored(2), scored(0));
    expect(compared?.rows).toEqual([
      { unit: "Opens with a sentence", first: "2", second: "0", agree: false },
    ]);
  });

  it("of totals without their moments is said by the totals alone", () => {
    const typed = (correct: number): ObservedEntry => ({ kind: "trials", correct, attempted: 10 });
    expect(compare({ kind: "trials" }, typed(6), typed(8))?.said).toBe("75% total count, 1 unit");
  });

  it("of different measures is nothing", () => {
    expect(
      compare(
        { kind: "trials" },
        { kind: "trials", correct: 1, attempted: 2 },
        {
          kind: "count",
          count: 1,
        },
      ),
    ).toBeNull();
  });
});
