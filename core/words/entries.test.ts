import { describe, expect, it } from "vitest";
import { notMeasuredLine, entryLine } from "../report/entry-line.ts";
import { type EntryWords } from "./en/entries.ts";
import { creditedHelp } from "./en/credited.ts";
import { entriesEs } from "./es/entries.ts";

const plain = (text: string) => text.replaceAll("\u00a0", " ");

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
