import { describe, expect, it } from "vitest";
import type { Measure, ObservedEntry } from "../measures/measure.ts";
import { countAgreement } from "./count-agreement.ts";
import { durationAgreement } from "./duration-agreement.ts";
import { type Account, matchObservers } from "./match-observers.ts";
import { trialAgreement } from "./trial-agreement.ts";

const noon = Date.UTC(2026, 10, 24, 17, 0);
const by = (entry: ObservedEntry, seconds = 0): Account => ({ entry, at: noon + seconds * 1000 });
const ladder = { levels: ["alone", "verbal"], misses: [], credited: "alone" };

describe("two observers", () => {
  it("of trials are matched by order; a trial that one of them missed is a disagreement", () => {
    const trials = (sequence: string): ObservedEntry => ({
      kind: "trials",
      correct: sequence.replaceAll("0", "").length,
      attempted: sequence.length,
      sequence,
    });
    const matched = matchObservers({ kind: "trials" }, by(trials("1101")), by(trials("110"), 3));
    expect(matched).toEqual({
      kind: "trial",
      pairs: [
        ["1", "1"],
        ["1", "1"],
        ["0", "0"],
        ["1", "not marked"],
      ],
    });
    expect(matched?.kind === "trial" && trialAgreement(matched.pairs).trialByTrial.value).toBe(75);
    const typed: ObservedEntry = { kind: "trials", correct: 7, attempted: 10 };
    expect(matchObservers({ kind: "trials" }, by(typed), by(trials("11")))).toMatchObject({
      kind: "count",
      pairs: [[7, 2]],
    });
  });

  it("of rows are matched by name, and a row that neither marked is no unit", () => {
    const measure: Measure = { kind: "skills", skills: ["stir", "pour", "wipe"], ...ladder };
    const grid = (marks: Record<string, string>): ObservedEntry => ({ kind: "skills", marks });
    expect(
      matchObservers(measure, by(grid({ stir: "alone", pour: "verbal" })), by(grid({ stir: "alone" }))),
    ).toEqual({
      kind: "trial",
      pairs: [
        ["alone", "alone"],
        ["verbal", "not marked"],
      ],
      units: ["stir", "pour"],
    });
    const list: Measure = { kind: "checklist", items: ["ladle", "whisk", "bowl"] };
    expect(
      matchObservers(
        list,
        by({ kind: "checklist", known: ["ladle"], probed: ["ladle", "whisk"] }),
        by({ kind: "checklist", known: ["ladle", "whisk"], probed: ["ladle", "whisk"] }),
      ),
    ).toEqual({
      kind: "trial",
      pairs: [
        ["known", "known"],
        ["not yet", "known"],
      ],
      units: ["ladle", "whisk"],
    });
  });

  it("of counts are matched by the clock, whoever began first", () => {
    const count = (atSeconds: number[], observedSeconds = 600): ObservedEntry => ({
      kind: "count",
      count: atSeconds.length,
      atSeconds,
      observedSeconds,
    });
    const measure: Measure = { kind: "count", per: "minute" };
    // The second one began 30 seconds later and saw the same three events.
    const matched = matchObservers(measure, by(count([40, 100, 400])), by(count([10, 70, 370]), 30));
    expect(matched).toMatchObject({ kind: "count", windowSeconds: 60 });
    expect(matched?.kind === "count" && countAgreement(matched.pairs).exactCountPerInterval.value).toBe(100);
    const apart = matchObservers(measure, by(count([40, 100, 400])), by(count([40, 100]), 0));
    expect(apart?.kind === "count" && countAgreement(apart.pairs).totalCount.value).toBeCloseTo(200 / 3, 10);
    expect(matchObservers(measure, by(count([5], 60)), by(count([5], 60)))).toMatchObject({
      windowSeconds: 10,
    });
  });

  it("of bouts are matched by overlap, each bout once; what one did not see stands against nothing", () => {
    const bouts = (...list: [from: number, seconds: number][]): ObservedEntry => ({
      kind: "duration",
      boutsSeconds: list.map(([, seconds]) => seconds),
      startsSeconds: list.map(([from]) => from),
    });
    const measure: Measure = { kind: "duration", report: "total" };
    const matched = matchObservers(
      measure,
      by(bouts([0, 60], [100, 30], [300, 20])),
      by(bouts([5, 50], [310, 20]), 0),
    );
    expect(matched).toEqual({
      kind: "duration",
      pairs: [
        [60, 50],
        [30, 0],
        [20, 20],
      ],
    });
    expect(matched?.kind === "duration" && durationAgreement(matched.pairs).totalDuration.value).toBeCloseTo(
      (100 * 70) / 110,
      10,
    );
    expect(matchObservers(measure, by(bouts()), by(bouts([0, 10])))).toEqual({
      kind: "duration",
      pairs: [[0, 10]],
    });
  });

  it("of intervals are matched by when they began; what either did not observe is no unit", () => {
    const measure: Measure = { kind: "intervals", method: "partial", intervalSeconds: 15 };
    const marks = (text: string): ObservedEntry => ({ kind: "intervals", marks: text });
    expect(matchObservers(measure, by(marks("110-1")), by(marks("10-1"), 16))).toEqual({
      kind: "interval",
      pairs: [
        ["1", "1"],
        ["0", "0"],
        ["1", "1"],
      ],
    });
  });

  it("of anything else are matched as far as it goes, and not at all across measures", () => {
    const fluency: Measure = { kind: "fluency" };
    const read = (attempted: number, errors: number): ObservedEntry => ({
      kind: "fluency",
      attempted,
      errors,
      seconds: 60,
    });
    expect(matchObservers(fluency, by(read(84, 3)), by(read(84, 5)))).toMatchObject({ pairs: [[81, 79]] });
    expect(
      matchObservers(fluency, by(read(84, 3)), by({ kind: "trials", correct: 1, attempted: 1 })),
    ).toBeNull();
    const chain: ObservedEntry = { kind: "steps", marks: ["alone", null, null] };
    expect(
      matchObservers(
        { kind: "steps", steps: ["a", "b", "c"], ...ladder },
        by(chain),
        by({ kind: "steps", marks: ["alone", "verbal", null] }),
      ),
    ).toEqual({
      kind: "trial",
      pairs: [
        ["alone", "alone"],
        ["not marked", "verbal"],
      ],
      units: ["a", "b"],
    });
  });
});
