import { describe, expect, it } from "vitest";
import { type Measure, measureKinds, readEntry } from "./measure.ts";
import { readTypedLine, sheetCodes, sheetColumns, typedLineHint } from "./sheet-lines.ts";

const ladder = { levels: ["independent", "verbal", "physical"], misses: ["refused"], credited: "verbal" };
const measures: Measure[] = [
  { kind: "trials", planned: 10 },
  { kind: "supports", ...ladder, planned: 5 },
  { kind: "skills", skills: ["stir", "pour", "wipe"], ...ladder },
  { kind: "checklist", items: ["ladle", "whisk", "sieve", "bowl", "spoon"] },
  { kind: "steps", steps: ["open", "pack", "close"], ...ladder },
  { kind: "count", per: "hour", counted: "requests" },
  { kind: "duration", report: "share" },
  { kind: "latency", report: "median" },
  { kind: "intervals", method: "partial", intervalSeconds: 15, planned: 6 },
  { kind: "fluency", plannedSeconds: 60 },
  {
    kind: "rubric",
    criteria: [
      { id: "ideas", max: 4 },
      { id: "order", max: 4 },
      { id: "ending", max: 4 },
    ],
  },
  {
    kind: "outcomes",
    outcomes: [
      { id: "alone", credit: 100 },
      { id: "helped", credit: 50 },
    ],
  },
  { kind: "running-total", target: 90, unit: "minutes" },
];
const of = (kind: Measure["kind"]) =>
  measures.find((one) => one.kind === kind) ?? { kind: "trials" as const };

describe("a line copied from a data sheet", () => {
  it.each<[Measure["kind"], string, object]>([
    ["trials", "7/10", { correct: 7, attempted: 10 }],
    ["trials", "7 of 10", { correct: 7, attempted: 10 }],
    ["trials", "1101", { correct: 3, attempted: 4, sequence: "1101" }],
    ["supports", "1124", { counts: { independent: 2, verbal: 1, refused: 1 } }],
    ["skills", "123", { marks: { stir: "independent", pour: "verbal", wipe: "physical" } }],
    ["skills", "1 - 3", { marks: { stir: "independent", wipe: "physical" }, finished: false }],
    ["steps", "12-", { marks: ["independent", "verbal", null] }],
    [
      "checklist",
      "110-1",
      { known: ["ladle", "whisk", "spoon"], probed: ["ladle", "whisk", "sieve", "spoon"] },
    ],
    ["count", "12 in 20 min", { count: 12, observedSeconds: 1200 }],
    ["duration", "4:10, 0:45 in 20 min", { boutsSeconds: [250, 45], observedSeconds: 1200 }],
    ["duration", "none in 20 min", { boutsSeconds: [], observedSeconds: 1200 }],
    ["latency", "12 s, 8, n, N", { delaysSeconds: [12, 8], noResponse: 2 }],
    ["intervals", "1101-0", { marks: "1101-0" }],
    ["fluency", "84/3", { attempted: 84, errors: 3, seconds: 60 }],
    ["fluency", "50 in 41 s", { attempted: 50, errors: 0, seconds: 41 }],
    ["rubric", "3 2 4", { levels: { ideas: 3, order: 2, ending: 4 } }],
    ["outcomes", "2", { outcome: "helped" }],
    ["outcomes", "went by bus", { outcome: "other", note: "went by bus" }],
    ["running-total", "12,5", { amount: 12.5 }],
  ])("of %s: %s", (kind, typed, entry) => {
    const read = readTypedLine(of(kind), typed);
    expect(read).toMatchObject({ ok: true, raw: { kind, ...entry } });
    // What it yields is an entry of the measure, scored.
    if (read.ok) expect(readEntry(of(kind), read.raw)).toMatchObject({ ok: true });
  });

  it.each<[Measure["kind"], string, RegExp]>([
    ["trials", "seven", /^Write 7\/10, or each trial in order/],
    ["supports", "1129", /“9” is none of the codes 1 to 4/],
    ["supports", "4/5", /4 of 5 does not say which levels: write each opportunity by its code/],
    ["supports", "4 of 5", /4 of 5 does not say which levels/],
    ["skills", "12", /^Write 3 codes, one for each of the skills; there are 2/],
    ["steps", "127", /“7” is none of the codes/],
    ["checklist", "11", /^Write 5 codes/],
    ["count", "12 in a while", /After “in” write a time/],
    ["count", "many", /^Write 12 in 20 min/],
    ["duration", "long", /^Write 4:10/],
    ["latency", "soon", /^Write 12 s, 8 s, n/],
    ["intervals", "yes", /^Write 1, 0 or -/],
    ["fluency", "x", /^Write attempted\/errors/],
    ["rubric", "3 2", /^Write 3 levels/],
    ["outcomes", "7", /^Write the code/],
    ["running-total", "-3", /^Write minutes/],
  ])("of %s that says %s is asked for again, with how to write it", (kind, typed, message) => {
    expect(readTypedLine(of(kind), typed)).toMatchObject({
      ok: false,
      message: expect.stringMatching(message) as string,
    });
  });

  it("is explained for every measure, and its own example is read", () => {
    expect(measures.map(({ kind }) => kind).sort()).toEqual([...measureKinds].sort());
    for (const measure of measures) {
      expect(sheetColumns(measure).length).toBeGreaterThan(0);
      expect(typedLineHint(measure)).not.toBe("");
    }
    expect(sheetCodes(of("steps")).map(({ code, means }) => `${code} ${means}`)).toEqual([
      "1 independent",
      "2 verbal",
      "3 physical",
      "4 refused",
      "- not marked",
    ]);
  });
});
