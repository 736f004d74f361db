import { describe, expect, it } from "vitest";
import { notMeasuredLine, entryLine } from "../report/entry-line.ts";
import { creditedHelp, type EntryWords, entriesEn } from "./en/entries.ts";
import { entriesEs } from "./es/entries.ts";

const plain = (text: string) => text.replaceAll("\u00a0", " ");
const odd = [0, 1, 2, 5, 0.5, 1234.56];
const reports = ["total", "mean", "longest", "share"] as const;
const averages = ["median", "mean"] as const;
const periods = ["week", "month", undefined] as const;
const reasons = ["refused", "interrupted"] as const;
const share = (n: number) => ({ value: n * 10, numerator: n, denominator: 10 });
const verbal = { level: "verbal", isFirst: false };

/** Every entry of the catalogue with a number in each of its places. */
const rendered: { [K in keyof EntryWords]: (words: EntryWords, n: number) => string[] } = {
  trials: (words, n) => [
    words.trials(share(n)),
    words.trials({ value: null, numerator: null, denominator: null }),
  ],
  checklist: (words, n) => [words.checklist(share(n))],
  promptLevels: (words, n) => [words.promptLevels(share(n), verbal, [{ level: "verbal", count: n }])],
  skills: (words, n) => [words.skills(share(n), { level: "independent", isFirst: true })],
  skillsOpen: (words, n) => [words.skillsOpen(n, 5)],
  steps: (words, n) => [
    words.steps(share(n), verbal, { place: n, name: "zip" }),
    words.steps(share(n), verbal, null),
  ],
  stepsOpen: (words, n) => [words.stepsOpen(n, 5)],
  count: (words, n) => [
    words.count({ count: n, counted: undefined, observedSeconds: undefined, rate: null }),
    words.count({
      count: n,
      counted: "call-outs",
      observedSeconds: 600,
      rate: { value: n, unit: "per minute" },
    }),
  ],
  intervals: (words, n) => [words.intervals(share(n), 30, n)],
  duration: (words, n) =>
    reports.flatMap((report) =>
      [n, null].map((value) => words.duration({ value, report, bouts: n, observedSeconds: 600 })),
    ),
  latencyWithin: (words, n) => [words.latencyWithin(share(n), 45, n)],
  latency: (words, n) =>
    averages.flatMap((report) => [n, null].map((value) => words.latency(value, report, n, n))),
  fluency: (words, n) => [
    words.fluency({ perMinute: n, accuracy: n, counted: "words", attempted: n, seconds: 60, errors: n }),
  ],
  outcome: (words, n) => [words.outcome("calm", n)],
  otherOutcome: (words) => [words.otherOutcome("a walk")],
  rubric: (words, n) => [words.rubric(share(n), "T. Brand"), words.rubric(share(n), undefined)],
  runningTotal: (words, n) => [words.runningTotal(n, "minutes")],
  soFar: (words, n) => periods.map((period) => words.soFar("2026-11-24", period, n, 300)),
  support: (words) => [words.support("verbal")],
  interrupted: (words) => [words.interrupted()],
  notMeasured: (words) => reasons.map((reason) => words.notMeasured(reason)),
};

describe.each([
  [
    "en",
    entriesEn,
    /\b(?:said|stands?|kept|told|somebody|whoever)\b|\b1 (?:times|bouts|errors|signals)\b|\b(?:0|2|5) (?:time|bout|error|signal)\b/,
  ],
  [
    "es",
    entriesEs,
    /\b(?:of|the|with|without|times?|correct|observed|not|verbal prompt|independent)\b|\b1 (?:veces|episodios|errores|señales|minutos)\b|\b(?:0|2|5) (?:vez|episodio|error|señal|minuto)\b/,
  ],
] as const)("the entry lines in %s", (_, words, wrong) => {
  it.each(Object.entries(rendered))("%s has its plurals, spaces and no full stop", (_name, render) => {
    for (const text of odd.flatMap((n) => render(words, n)).map(plain)) {
      expect(text).not.toMatch(wrong);
      expect(text).not.toMatch(/undefined|null|NaN|\[object| {2}| [,.;:)]|\( |^ | $|\.$/);
      expect(text).not.toMatch(/\d %|(?<![.\d])\d{4,}/);
    }
  });
});

describe("the same entry", () => {
  const recorded = {
    measure: {
      kind: "supports" as const,
      levels: ["independent", "gestural", "verbal"],
      misses: ["refused"],
      credited: "gestural",
      opportunities: 5,
      leftOut: [],
    },
    entry: { kind: "supports" as const, counts: { independent: 2, verbal: 1, refused: 1, gestural: 1 } },
    score: { value: 60, unit: "percent", numerator: 3, denominator: 5, interval95: null, detail: {} },
    circumstances: { interrupted: true },
  };
  it("reads as written in each language", () => {
    const read = (words?: EntryWords) => plain(entryLine("Asks", recorded, null, words).sentence);
    expect(read()).toBe(
      "Asks: 3 of 5 with a gestural prompt or less (60%): 2 independent, 1 gestural, 1 verbal, 1 refused, interrupted.",
    );
    expect(read(entriesEs)).toBe(
      "Asks: 3 de 5 con ayuda gestual o menos (60%): 2 sin ayuda, 1 ayuda gestual, 1 ayuda verbal, 1 se negó, con interrupción.",
    );
    expect(notMeasuredLine("Asks", "refused", null, entriesEs).sentence).toBe("Asks: sin medir, se negó.");
  });
});

describe("credited help", () => {
  it.each([
    ["independent", true, "independent"],
    ["no prompt", true, "with no prompt"],
    ["verbal", false, "with a verbal prompt or less"],
    ["moderate", false, "with moderate assistance or less"],
    ["2 prompts", false, "with 2 prompts or less"],
    ["teacher cue", false, "with “teacher cue” or less help"],
  ])("of %s", (level, isFirst, words) => {
    expect(creditedHelp({ level, isFirst })).toBe(words);
  });
});
