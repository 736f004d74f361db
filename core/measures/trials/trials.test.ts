import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { readEntry, scoreEntry } from "../measure.ts";
import { scoreTrials, trialsEntryFromMarks } from "./trials.ts";

describe("scoreTrials", () => {
  it("is the percentage of opportunities with its counts and interval", () => {
    expect(scoreTrials({ correct: 7, attempted: 10 })).toMatchObject({
      ok: true,
      score: { value: 70, unit: "percent", numerator: 7, denominator: 10 },
    });
    const scored = scoreTrials({ correct: 7, attempted: 10 });
    expect(scored.ok && scored.score.interval95?.map(Math.round)).toEqual([40, 89]);
  });

  it.each([
    [{ correct: 3, attempted: 2 }, "correct"],
    [{ correct: 0, attempted: 0 }, "attempted"],
    [{ correct: -1, attempted: 5 }, "correct"],
    [{ correct: 1.5, attempted: 5 }, "correct"],
    [{ correct: 1 }, "attempted"],
    [{ correct: "7", attempted: 10 }, "correct"],
    [{ correct: 1, attempted: Number.POSITIVE_INFINITY }, "attempted"],
  ])("refuses %o and names the field", (entry, field) => {
    const scored = scoreEntry({ kind: "trials" }, entry);
    expect(scored.ok ? [] : scored.problems.map((problem) => problem.field)).toContain(field);
  });

  it("stays within 0 … 100 and never falls when a credited trial is added", () => {
    fc.assert(
      fc.property(fc.array(fc.boolean(), { minLength: 1, maxLength: 100 }), (marks) => {
        const before = scoreTrials(trialsEntryFromMarks(marks));
        const after = scoreTrials(trialsEntryFromMarks([...marks, true]));
        if (!before.ok || !after.ok) throw new Error("marks always score");
        expect(before.score.value).toBeGreaterThanOrEqual(0);
        expect(after.score.value).toBeLessThanOrEqual(100);
        expect(after.score.value ?? 0).toBeGreaterThanOrEqual(before.score.value ?? 0);
      }),
    );
  });

  it("does not depend on the order of the marks", () => {
    fc.assert(
      fc.property(fc.array(fc.boolean(), { minLength: 1 }), (marks) => {
        expect(scoreTrials(trialsEntryFromMarks([...marks].reverse()))).toEqual(
          scoreTrials(trialsEntryFromMarks(marks)),
        );
      }),
    );
  });
});

describe("readEntry", () => {
  const measure = { kind: "trials" } as const;

  it("keeps the order of the marks, and survives a round trip through JSON", () => {
    const entry = trialsEntryFromMarks([true, false, true]);
    expect(entry).toEqual({ kind: "trials", correct: 2, attempted: 3, sequence: "101" });
    expect(readEntry(measure, JSON.parse(JSON.stringify(entry)))).toMatchObject({ ok: true, entry });
  });

  it("refuses marks that do not add up to the counts", () => {
    expect(readEntry(measure, { kind: "trials", correct: 2, attempted: 2, sequence: "101" })).toMatchObject({
      ok: false,
      problems: [{ field: "sequence" }],
    });
    expect(readEntry(measure, { kind: "trials", correct: 1, attempted: 3, sequence: "101" })).toMatchObject({
      ok: false,
    });
    expect(readEntry(measure, { kind: "trials", correct: 1, attempted: 1, sequence: "x" })).toMatchObject({
      ok: false,
    });
  });
});
