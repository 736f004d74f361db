import { describe, expect, it } from "vitest";
import type { Measure } from "./measure.ts";
import { partHistory, partSentence, type PartSource, partWords, renamedParts } from "./part-history.ts";

const tools: Measure = { kind: "checklist", items: ["ladle", "whisk", "colander"] };
const probe = (date: string, known: string[], probed?: string[]): PartSource => ({
  date,
  entryId: date,
  measure: tools,
  entry: { kind: "checklist", known, ...(probed ? { probed } : {}) },
});

describe("the history of parts", () => {
  const histories = partHistory(tools, [
    probe("2026-10-01", ["ladle"]),
    probe("2026-10-08", ["ladle", "whisk"]),
    probe("2026-10-15", ["ladle"], ["ladle", "colander"]),
  ]);

  it("counts each part over the entries in which it was marked, and no others", () => {
    expect(histories.map(({ part, credited, of }) => [part, credited, of])).toEqual([
      ["ladle", 3, 3],
      ["whisk", 1, 2],
      ["colander", 0, 3],
    ]);
    expect(histories[2]?.marks.map(({ said }) => said)).toEqual(["not yet", "not yet", "not yet"]);
  });

  it("says which carry the result", () => {
    expect(partSentence(tools, histories)).toEqual({
      best: "ladle",
      bestWords: "known 3\u00a0of\u00a03 times",
      least: "colander",
      leastWords: "known 0\u00a0of\u00a03 times",
    });
    expect(partSentence(tools, partHistory(tools, []))).toBeNull();
    expect(partWords(tools, { credited: 0, of: 0 })).toBe("not measured yet");
  });

  it("keeps the history of a part that was renamed, and shows parts that only an earlier version had", () => {
    const now: Measure = { kind: "checklist", items: ["soup ladle", "whisk"] };
    const names = partHistory(now, [probe("2026-10-01", ["ladle"])], new Map([["ladle", "soup ladle"]]));
    expect(names.map(({ part, credited, of }) => [part, credited, of])).toEqual([
      ["soup ladle", 1, 1],
      ["whisk", 0, 1],
      ["colander", 0, 1],
    ]);
  });

  it("takes another name at the same place for a renaming, and a change of order for none", () => {
    const to = (...items: string[]) => renamedParts(tools, { kind: "checklist", items });
    expect(to("soup ladle", "whisk", "colander")).toEqual({ ladle: "soup ladle" });
    expect(to("whisk", "ladle", "colander")).toEqual({});
    expect(to("ladle", "whisk")).toEqual({});
    expect(renamedParts(tools, { kind: "trials" })).toEqual({});
  });

  it("of prompt levels is the share of the opportunities", () => {
    const supports: Measure = {
      kind: "supports",
      levels: ["independent", "verbal"],
      misses: ["refused"],
      credited: "independent",
    };
    const [independent, , refused] = partHistory(supports, [
      {
        date: "2026-10-01",
        entryId: "a",
        measure: supports,
        entry: { kind: "supports", counts: { independent: 3, refused: 1 } },
      },
      {
        date: "2026-10-02",
        entryId: "b",
        measure: supports,
        entry: { kind: "supports", counts: { verbal: 4 } },
      },
    ]);
    expect([independent?.credited, independent?.of, refused?.credited]).toEqual([3, 8, 1]);
    expect(partWords(supports, independent ?? { credited: 0, of: 0 }).replaceAll("\u00a0", " ")).toBe(
      "38% of the opportunities (3 of 8)",
    );
  });
});
