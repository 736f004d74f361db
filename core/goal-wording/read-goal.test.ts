import { readFileSync } from "node:fs";
import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { digitsForWords, numberPattern, readNumber } from "./numbers.ts";
import { type GoalReading, readGoal } from "./read-goal.ts";

function samples(file: string): { text: string; expected: GoalReading }[] {
  return readFileSync(new URL(`../../tests/samples/${file}`, import.meta.url), "utf8")
    .trim()
    .split("\n")
    .map((line) => JSON.parse(line) as { text: string; expected: GoalReading });
}

describe("readGoal", () => {
  // Thirty labelled wordings, and eight times as many of our own in other words, labelled by the same conventions.
  it.each([
    ["goal-wordings.jsonl", 30],
    ["goal-wordings-more.jsonl", 260],
  ])("reads the labelled wordings of %s", (file, atLeast) => {
    const wordings = samples(file);
    expect(wordings.length).toBeGreaterThanOrEqual(atLeast);
    const wrong = wordings.flatMap(({ text, expected }) => {
      const { reading } = readGoal(text);
      return (Object.keys(expected) as (keyof GoalReading)[])
        .filter((field) => JSON.stringify(reading[field]) !== JSON.stringify(expected[field]))
        .map((field) => `${field} ${JSON.stringify(reading[field])}: ${text}`);
    });
    expect(wrong).toEqual([]);
  });

  it("says where each field was read", () => {
    const text = "By 14 March 2027, {student} will solve problems with 80% accuracy in 3 of 4 sessions.";
    const { words } = readGoal(text);
    const said = Object.fromEntries(
      Object.entries(words).map(([field, [from, to]]) => [field, text.slice(from, to)]),
    );
    expect(said).toEqual({
      due: "14 March 2027",
      percent: "80%",
      measure: "accuracy",
      window: "3 of 4 sessions",
    });
  });

  it("reads the same from curly quotes, long dashes, hard spaces and capitals", () => {
    const plain =
      "{student} will answer 'why' questions in 4 of 5 trials with no more than 1 verbal prompt - by June 2027";
    const fancy = plain
      .replace(/'/g, "\u2019")
      .replace(" - ", " \u2014 ")
      .replaceAll(" ", "\u00a0")
      .toUpperCase();
    expect(readGoal(fancy).reading).toEqual(readGoal(plain).reading);
  });

  it("proposes nothing where the wording says nothing, in any script, and never breaks", () => {
    fc.assert(
      fc.property(fc.string({ unit: "grapheme", maxLength: 300 }), (text) => {
        const { reading, words } = readGoal(text);
        for (const [from, to] of Object.values(words)) {
          expect(from).toBeGreaterThanOrEqual(0);
          expect(to).toBeLessThanOrEqual(text.length);
          expect(from).toBeLessThan(to);
        }
        if (!/\d|[a-z]/i.test(text))
          expect(Object.values(reading).every((value) => value === null)).toBe(true);
      }),
    );
  });

  it("reads two thousand characters at once", () => {
    const long = `${"Given a text at her level and a graphic organizer, ".repeat(38)}{student} will answer with 80% accuracy.`;
    const begun = performance.now();
    expect(readGoal(long).reading.percent).toBe(80);
    // A guard against patterns that run away, not a benchmark: a wording is read in a few milliseconds.
    expect(performance.now() - begun).toBeLessThan(2000);
  });
});

describe("numbers in words", () => {
  it.each([
    ["seven", 7],
    ["twenty", 20],
    ["thirty-five", 35],
    ["ninety nine", 99],
    ["one hundred", 100],
    ["a hundred and twenty-one", 121],
    ["1,200", 1200],
    ["2.5", 2.5],
  ])("%s is %d", (text, value) => {
    const digits = digitsForWords(text);
    expect(digits.length).toBe(text.length);
    expect(new RegExp(`^${numberPattern}$`).test(digits)).toBe(true);
    expect(readNumber(digits)).toBe(value);
  });
});
