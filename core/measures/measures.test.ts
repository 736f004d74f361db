import { entriesEn } from "../words/en/entries.ts";
import { quantileSorted } from "simple-statistics";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { type Measure, type ObservedEntry, kindOf, readEntry, readMeasure, scoreEntry } from "./measure.ts";
import { detailsOf } from "./details-of.ts";
import { taughtStep } from "./steps/details.ts";
import type { Score } from "./score-schema.ts";

const ladder = {
  levels: ["independent", "verbal", "visual"],
  misses: ["incorrect", "refused"],
  credited: "verbal",
};
const supports: Measure = { kind: "supports", ...ladder };
const skills: Measure = { kind: "skills", skills: ["faces the cook", "waits", "pays"], ...ladder };
const steps: Measure = {
  kind: "steps",
  steps: ["water", "soap", "rinse", "dry"],
  ...ladder,
  credited: "independent",
};
const checklist: Measure = { kind: "checklist", items: ["ladle", "whisk", "colander"] };
const rubric: Measure = {
  kind: "rubric",
  criteria: [
    { id: "topic", max: 4, levels: ["none", "named", "clear", "kept"] },
    { id: "reasons", label: "Gives reasons", max: 4 },
  ],
};
const outcomes: Measure = {
  kind: "outcomes",
  outcomes: [
    { id: "alone", label: "Sorted alone", credit: 100 },
    { id: "help", credit: 50 },
    { id: "none", credit: 0 },
  ],
};

function scoreOf(measure: Measure, entry: object): Score {
  const scored = scoreEntry(measure, entry);
  if (!scored.ok) throw new Error(scored.problems.map(({ message }) => message).join(" "));
  return scored.score;
}
function problemsOf(measure: Measure, entry: object): string[] {
  const scored = scoreEntry(measure, entry);
  return scored.ok ? [] : scored.problems.map(({ field }) => field);
}
const plain = (text: string) => text.replaceAll("\u00a0", " ");
function line(measure: Measure, entry: ObservedEntry): string {
  const read = readEntry(measure, entry);
  if (!read.ok) throw new Error(read.problems.map(({ message }) => message).join(" "));
  return plain(kindOf(measure).line(measure, read.entry, read.score, entriesEn));
}

describe("supports", () => {
  // 40% independent, 70% with verbal or less, 90% with visual or less: common practice, as docs/methods.md has it.
  it("adds the levels up to the credited one", () => {
    const score = scoreOf(supports, { counts: { independent: 4, verbal: 3, visual: 2, incorrect: 1 } });
    expect(score).toMatchObject({
      value: 70,
      numerator: 7,
      denominator: 10,
      detail: {
        share: { independent: 40, verbal: 30, visual: 20, incorrect: 10, refused: 0 },
        cumulative: { independent: 40, verbal: 70, visual: 90 },
      },
    });
    expect(score.interval95?.map(Math.round)).toEqual([40, 89]);
  });

  it("counts misses as opportunities unless the set-up leaves them out, and then shows both figures", () => {
    const counts = { independent: 3, refused: 1, incorrect: 1 };
    expect(scoreOf(supports, { counts }).value).toBe(60);
    const without: Measure = { ...supports, countMisses: ["incorrect"] };
    expect(scoreOf(without, { counts })).toMatchObject({ value: 75, denominator: 4 });
    const entry: ObservedEntry = { kind: "supports", counts };
    expect(
      detailsOf(without)
        .facts(without, entry, scoreOf(without, entry))
        .map(({ value }) => plain(value)),
    ).toEqual(["3 of 4 with a verbal prompt or less (75%)", "3 of 5 with a verbal prompt or less (60%)"]);
    expect(scoreOf(without, { counts: { refused: 2 } })).toMatchObject({ value: null, interval95: null });
  });

  it("refuses a level that is none, a fraction and an empty count", () => {
    expect(problemsOf(supports, { counts: { Verbal: 1 } })).toEqual(["counts"]);
    expect(problemsOf(supports, { counts: { verbal: 1.5 } })).toEqual(["counts.verbal"]);
    expect(problemsOf(supports, { counts: {} })).toEqual(["counts"]);
    expect(problemsOf(supports, { counts: { verbal: 0 } })).toEqual(["counts"]);
    expect(problemsOf(supports, { counts: { toString: 1 } })).toEqual(["counts"]);
  });
});

describe("skills", () => {
  it("is scored when every skill is marked", () => {
    expect(
      scoreOf(skills, { marks: { "faces the cook": "independent", waits: "verbal", pays: "refused" } }),
    ).toMatchObject({ value: 200 / 3, numerator: 2, denominator: 3, interval95: null });
    expect(problemsOf(skills, { marks: { waits: "verbal" } })).toEqual(["marks"]);
    expect(
      problemsOf(skills, { marks: { "faces the cook": "alone", waits: "verbal", pays: "verbal" } }),
    ).toEqual(["marks"]);
  });

  it("keeps a grid broken off as not finished, unscored", () => {
    const broken = readEntry(skills, { kind: "skills", finished: false, marks: { waits: "verbal" } });
    expect(broken).toMatchObject({ ok: true, score: { value: null, why: { value: "not finished" } } });
    expect(line(skills, { kind: "skills", finished: false, marks: { waits: "verbal" } })).toBe(
      "not finished, 1 of 3 marked",
    );
    expect(readEntry(skills, { kind: "skills", finished: false, marks: {} }).ok).toBe(false);
    expect(readEntry(skills, { kind: "skills", marks: { waits: "verbal" } }).ok).toBe(false);
  });
});

describe("checklist", () => {
  it("is the share of the probed items, all of them unless it says which", () => {
    expect(scoreOf(checklist, { known: ["ladle"] })).toMatchObject({ numerator: 1, denominator: 3 });
    expect(scoreOf(checklist, { known: ["ladle"], probed: ["ladle", "whisk"] }).value).toBe(50);
    expect(problemsOf(checklist, { known: ["ladle"], probed: ["whisk"] })).toEqual(["known"]);
    expect(problemsOf(checklist, { known: ["spoon"] })).toEqual(["known"]);
    expect(problemsOf(checklist, { known: [], probed: [] })).toEqual(["probed"]);
  });
});

describe("steps", () => {
  it("credits steps, not those that were not reached, and names the first that is open", () => {
    expect(scoreOf(steps, { marks: ["independent", "verbal", "independent", null] })).toMatchObject({
      value: 50,
      detail: { firstNotCredited: 1 },
    });
    expect(scoreOf(steps, { marks: Array(4).fill("independent") }).detail).toEqual({
      firstNotCredited: null,
    });
    expect(line(steps, { kind: "steps", marks: ["independent", "verbal", "independent", null] })).toBe(
      "2 of 4 steps independent (50%); first not independent: 2, soap",
    );
  });

  it("refuses a wrong number of marks, a mark that is none, and nothing at all", () => {
    expect(problemsOf(steps, { marks: ["independent"] })).toEqual(["marks"]);
    expect(problemsOf(steps, { marks: ["x", null, null, null] })).toEqual(["marks"]);
    expect(problemsOf(steps, { marks: [null, null, null, null] })).toEqual(["marks"]);
  });

  it("teaches the first open step forward and the last open one backward", () => {
    if (steps.kind !== "steps") throw new Error();
    const marks = ["independent", "verbal", "verbal", "independent"];
    expect(taughtStep({ ...steps, teaching: "forward" }, { marks })).toBe(1);
    expect(taughtStep({ ...steps, teaching: "backward" }, { marks })).toBe(2);
    expect(taughtStep({ ...steps, teaching: "total-task" }, { marks })).toBeNull();
  });
});

describe("count", () => {
  it("is a count, or a rate over the time observed", () => {
    expect(scoreOf({ kind: "count", per: "observation" }, { count: 3 })).toMatchObject({
      value: 3,
      unit: "count",
    });
    expect(scoreOf({ kind: "count", per: "minute" }, { count: 12, observedSeconds: 480 })).toMatchObject({
      value: 1.5,
      unit: "per minute",
      numerator: null,
    });
    expect(scoreOf({ kind: "count", per: "hour" }, { count: 3, observedSeconds: 1800 }).value).toBe(6);
    expect(problemsOf({ kind: "count", per: "hour" }, { count: 3 })).toEqual(["observedSeconds"]);
    expect(problemsOf({ kind: "count", per: "hour" }, { count: 3, observedSeconds: 0 })).toEqual([
      "observedSeconds",
    ]);
    expect(
      line(
        { kind: "count", per: "minute", counted: "call-outs" },
        { kind: "count", count: 12, observedSeconds: 480 },
      ),
    ).toBe("1.5 a minute (12 call-outs in 8 min)");
  });
});

describe("duration", () => {
  const bouts = { boutsSeconds: [60, 90, 100], observedSeconds: 1000 };
  it("reports total, mean, longest or share", () => {
    const value = (report: "total" | "mean" | "longest" | "share", entry: object = bouts) =>
      scoreOf({ kind: "duration", report }, entry).value;
    expect([value("total"), value("longest"), value("share")]).toEqual([250, 100, 25]);
    expect(value("mean")).toBeCloseTo(83.333, 3);
    expect([value("total", { boutsSeconds: [] }), value("mean", { boutsSeconds: [] })]).toEqual([0, null]);
    expect(line({ kind: "duration", report: "total" }, { kind: "duration", ...bouts })).toBe(
      "4 min 10 s in all (3 bouts in 16 min 40 s observed)",
    );
  });

  it("refuses bouts longer than the observation, a negative bout and a share of no time", () => {
    expect(
      problemsOf({ kind: "duration", report: "total" }, { boutsSeconds: [90], observedSeconds: 60 }),
    ).toEqual(["boutsSeconds"]);
    expect(problemsOf({ kind: "duration", report: "total" }, { boutsSeconds: [-1] })).toEqual([
      "boutsSeconds.0",
    ]);
    expect(problemsOf({ kind: "duration", report: "share" }, { boutsSeconds: [1] })).toEqual([
      "observedSeconds",
    ]);
  });
});

describe("latency", () => {
  it("takes a no-response for longer than any delay", () => {
    const median = (delaysSeconds: number[], noResponse = 0) =>
      scoreOf({ kind: "latency", report: "median" }, { delaysSeconds, noResponse }).value;
    expect(median([10, 20, 40])).toBe(20);
    expect(median([10, 20], 1)).toBe(20);
    expect(median([10, 20], 2)).toBeNull();
    expect(
      scoreOf({ kind: "latency", report: "mean" }, { delaysSeconds: [10], noResponse: 1 }),
    ).toMatchObject({
      value: null,
      detail: { noResponse: 1 },
    });
    expect(
      scoreOf(
        { kind: "latency", report: "within", withinSeconds: 30 },
        { delaysSeconds: [12, 30, 45], noResponse: 1 },
      ),
    ).toMatchObject({ value: 50, numerator: 2, denominator: 4 });
  });

  it("agrees with a reference library on the median of answered signals", () => {
    fc.assert(
      fc.property(
        fc.array(fc.integer({ min: 0, max: 600 }), { minLength: 1, maxLength: 30 }),
        (delaysSeconds) => {
          const sorted = [...delaysSeconds].sort((a, b) => a - b);
          expect(scoreOf({ kind: "latency", report: "median" }, { delaysSeconds }).value).toBeCloseTo(
            quantileSorted(sorted, 0.5),
            9,
          );
        },
      ),
    );
  });

  it("refuses an observation without a signal, and *within* without its time", () => {
    expect(problemsOf({ kind: "latency", report: "median" }, { delaysSeconds: [] })).toEqual([
      "delaysSeconds",
    ]);
    expect(readMeasure({ kind: "latency", report: "within" })).toMatchObject({
      ok: false,
      problems: [{ field: "withinSeconds" }],
    });
  });
});

describe("intervals", () => {
  const momentary: Measure = { kind: "intervals", method: "momentary", intervalSeconds: 60 };
  it("leaves out what was not observed", () => {
    expect(scoreOf(momentary, { marks: "110-1" })).toMatchObject({
      value: 75,
      numerator: 3,
      denominator: 4,
      interval95: null,
    });
    expect(problemsOf(momentary, { marks: "---" })).toEqual(["marks"]);
    expect(problemsOf(momentary, { marks: "" })).toEqual(["marks"]);
    expect(problemsOf(momentary, { marks: "1x" })).toEqual(["marks"]);
    expect(line(momentary, { kind: "intervals", marks: "110-1" })).toBe(
      "3 of 4 intervals of 1 min (75%), 1 not observed",
    );
  });
});

describe("fluency", () => {
  // Words correct per minute and accuracy of oral reading (Hasbrouck & Tindal 2017, BRT Technical Report 1702, define WCPM
  // as words read correctly in one minute); the third case scales a shorter reading to a minute, common practice.
  it.each([
    [{ attempted: 79, errors: 4, seconds: 60 }, 75, 94.94],
    [{ attempted: 120, errors: 0, seconds: 60 }, 120, 100],
    [{ attempted: 50, errors: 5, seconds: 45 }, 60, 90],
  ])("of %o", (entry, perMinute, accuracy) => {
    const score = scoreOf({ kind: "fluency" }, entry);
    expect([score.value, score.unit]).toEqual([perMinute, "per minute"]);
    expect(score.detail["accuracy"]).toBeCloseTo(accuracy, 2);
  });

  it("refuses more errors than words, no words and no time", () => {
    expect(problemsOf({ kind: "fluency" }, { attempted: 3, errors: 4, seconds: 60 })).toEqual(["errors"]);
    expect(problemsOf({ kind: "fluency" }, { attempted: 0, errors: 0, seconds: 60 })).toEqual(["attempted"]);
    expect(problemsOf({ kind: "fluency" }, { attempted: 3, errors: 0, seconds: 0 })).toEqual(["seconds"]);
  });
});

describe("rubric", () => {
  it("adds the levels up over their highest", () => {
    expect(scoreOf(rubric, { levels: { topic: 3, reasons: 2 } })).toMatchObject({
      value: 62.5,
      numerator: 5,
      denominator: 8,
      detail: { lowest: 2 },
    });
    expect(problemsOf(rubric, { levels: { topic: 5, reasons: 2 } })).toEqual(["levels"]);
    expect(problemsOf(rubric, { levels: { topic: 3 } })).toEqual(["levels"]);
    expect(problemsOf(rubric, { levels: { topic: 3, reasons: 2, style: 1 } })).toEqual(["levels"]);
  });

  it("says each level in the rubric's words, and who rated", () => {
    const entry: ObservedEntry = { kind: "rubric", levels: { topic: 3, reasons: 2 }, rater: "I. Okafor" };
    expect(detailsOf(rubric).facts(rubric, entry, scoreOf(rubric, entry))).toEqual([
      { label: "topic", value: "3 of 4: clear" },
      { label: "Gives reasons", value: "2 of 4" },
    ]);
    expect(line(rubric, entry)).toBe("5 of 8 points (63%), rated by I. Okafor");
  });
});

describe("outcomes", () => {
  it("gives the outcome's credit; another outcome is noted and not scored", () => {
    expect(scoreOf(outcomes, { outcome: "help" })).toMatchObject({ value: 50, numerator: null });
    expect(scoreOf(outcomes, { outcome: "other", note: "fire drill" })).toMatchObject({ value: null });
    expect(problemsOf(outcomes, { outcome: "later" })).toEqual(["outcome"]);
    expect(readEntry(outcomes, { kind: "outcomes", outcome: "other" })).toMatchObject({
      ok: false,
      problems: [{ field: "note" }],
    });
    expect(line(outcomes, { kind: "outcomes", outcome: "alone" })).toBe("Sorted alone: worth 100%");
  });
});

describe("running total", () => {
  it("scores the amount in the measure's own unit", () => {
    const measure: Measure = { kind: "running-total", target: 300, unit: "minutes" };
    expect(scoreOf(measure, { amount: 25 })).toMatchObject({ value: 25, unit: "minutes", numerator: null });
    expect(problemsOf(measure, { amount: -5 })).toEqual(["amount"]);
    expect(problemsOf(measure, { amount: "25" })).toEqual(["amount"]);
  });
});

describe("a measure", () => {
  it.each([
    [{ kind: "guess" }, "kind"],
    [null, "kind"],
    [{ kind: "supports", levels: ["a"], misses: [], credited: "b" }, "credited"],
    [{ kind: "supports", levels: ["a", "a"], misses: [], credited: "a" }, "levels"],
    [{ kind: "supports", levels: ["a"], misses: ["a"], credited: "a" }, "misses"],
    [{ kind: "supports", levels: ["a"], misses: ["m"], credited: "a", countMisses: ["n"] }, "countMisses"],
    [{ kind: "steps", steps: [], levels: ["a"], misses: [], credited: "a" }, "steps"],
    [{ kind: "outcomes", outcomes: [{ id: "a", credit: 101 }] }, "outcomes.0.credit"],
    [{ kind: "rubric", criteria: [{ id: "a", max: 0 }] }, "criteria.0.max"],
    [{ kind: "running-total", target: 0, unit: "minutes" }, "target"],
  ])("that is none says so: %o", (raw, field) => {
    const read = readMeasure(raw);
    expect(read.ok ? [] : read.problems.map((problem) => problem.field)).toContain(field);
  });

  it("says something a person understands about every field that is missing", () => {
    for (const kind of [
      "supports",
      "skills",
      "checklist",
      "steps",
      "count",
      "duration",
      "latency",
      "intervals",
      "rubric",
      "outcomes",
      "running-total",
    ]) {
      const read = readMeasure({ kind });
      for (const { message } of read.ok ? [] : read.problems)
        expect(message).not.toMatch(/invalid|expected|undefined/i);
      expect(read.ok).toBe(false);
    }
  });
});

/** Any ladder with any marks of it: names in any script. */
const anyName = fc
  .string({ unit: "grapheme", minLength: 1, maxLength: 12 })
  .filter((text) => text !== "__proto__" && text.length <= 200);
const anyLadder = fc
  .tuple(fc.uniqueArray(anyName, { minLength: 2, maxLength: 6 }), fc.nat(3), fc.nat(5))
  .map(([names, misses, at]) => {
    const levels = names.slice(0, Math.max(1, names.length - misses));
    return { levels, misses: names.slice(levels.length), credited: levels[at % levels.length] ?? "" };
  });
const marksOf = (ladder: { levels: string[]; misses: string[] }) =>
  fc.constantFrom(...ladder.levels, ...ladder.misses);

describe("every score of parts", () => {
  it("of counted prompt levels is bounded, needs no order and never falls with a credited opportunity", () => {
    const any = anyLadder.chain((ladder) =>
      fc.tuple(fc.constant(ladder), fc.array(marksOf(ladder), { minLength: 1, maxLength: 60 })),
    );
    fc.assert(
      fc.property(any, ([ladder, marks]) => {
        const measure: Measure = { kind: "supports", ...ladder };
        const tally = (list: string[]) => {
          const counts: Record<string, number> = {};
          for (const mark of list) counts[mark] = (Object.hasOwn(counts, mark) ? (counts[mark] ?? 0) : 0) + 1;
          return { counts };
        };
        const score = scoreOf(measure, tally(marks));
        const value = score.value ?? 0;
        expect(value).toBeGreaterThanOrEqual(0);
        expect(value).toBeLessThanOrEqual(100);
        expect(scoreOf(measure, tally([...marks].reverse()))).toEqual(score);
        expect(scoreOf(measure, tally([...marks, ladder.levels[0] ?? ""])).value).toBeGreaterThanOrEqual(
          value,
        );
        const shares = Object.values(score.detail["share"] as Record<string, number>);
        expect(shares.reduce((sum, share) => sum + share, 0)).toBeCloseTo(100, 6);
      }),
    );
  });

  it("of a grid and of a chain is bounded and survives JSON, in any script", () => {
    const any = anyLadder.chain((ladder) =>
      fc.tuple(
        fc.constant(ladder),
        fc
          .uniqueArray(anyName, { minLength: 1, maxLength: 12 })
          .chain((names) =>
            fc.tuple(
              fc.constant(names),
              fc.array(marksOf(ladder), { minLength: names.length, maxLength: names.length }),
            ),
          ),
      ),
    );
    fc.assert(
      fc.property(any, ([ladder, [names, marks]]) => {
        const grid: Measure = { kind: "skills", skills: names, ...ladder };
        const chain: Measure = { kind: "steps", steps: names, ...ladder };
        const gridEntry = {
          kind: "skills",
          marks: Object.fromEntries(names.map((name, at) => [name, marks[at]])),
        };
        const chainEntry = { kind: "steps", marks };
        for (const [measure, entry] of [
          [grid, gridEntry],
          [chain, chainEntry],
        ] as const) {
          const read = readEntry(measure, entry);
          if (!read.ok) throw new Error(JSON.stringify(read.problems));
          expect(
            readEntry(JSON.parse(JSON.stringify(measure)) as Measure, JSON.parse(JSON.stringify(read.entry))),
          ).toEqual(read);
          expect(readMeasure(JSON.parse(JSON.stringify(measure)))).toEqual({ ok: true, measure });
          expect(read.score.value).toBeGreaterThanOrEqual(0);
          expect(read.score.value).toBeLessThanOrEqual(100);
        }
        expect(scoreOf(grid, gridEntry).value).toBe(scoreOf(chain, chainEntry).value);
      }),
    );
  });

  it("of intervals, rubrics and fluency is bounded", () => {
    fc.assert(
      fc.property(
        fc
          .string({ unit: fc.constantFrom("0", "1", "-"), minLength: 1, maxLength: 80 })
          .filter((marks) => /[01]/.test(marks)),
        fc.tuple(fc.nat(4), fc.nat(4)),
        fc.tuple(fc.integer({ min: 1, max: 400 }), fc.nat(400), fc.integer({ min: 1, max: 600 })),
        (marks, [topic, reasons], [attempted, wrong, seconds]) => {
          const momentary: Measure = { kind: "intervals", method: "partial", intervalSeconds: 10 };
          const before = scoreOf(momentary, { marks }).value ?? 0;
          expect(scoreOf(momentary, { marks: [...marks].reverse().join("") }).value).toBe(before);
          expect(scoreOf(momentary, { marks: `${marks}1` }).value).toBeGreaterThanOrEqual(before);
          const points = scoreOf(rubric, { levels: { topic, reasons } }).value ?? 0;
          expect(points).toBeLessThanOrEqual(100);
          const errors = Math.min(wrong, attempted);
          const read = scoreOf({ kind: "fluency" }, { attempted, errors, seconds });
          expect(read.value).toBeGreaterThanOrEqual(0);
          expect(read.detail["accuracy"]).toBeLessThanOrEqual(100);
        },
      ),
    );
  });
});
