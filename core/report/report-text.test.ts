import fc from "fast-check";
import { describe, expect, it } from "vitest";
import { fitted } from "./report-text.ts";

const bare = (text: string) => text.replace(/\s+/g, "");

describe("a text in parts that fit a field", () => {
  it("loses no letter, and no part is longer than the field", () => {
    fc.assert(
      fc.property(
        fc.array(fc.oneof(fc.string({ unit: "binary" }), fc.constantFrom(". ", "\n\n", " ", "word", "😀"))),
        fc.integer({ min: 2, max: 80 }),
        (pieces, limit) => {
          const text = pieces.join("");
          const parts = fitted(text, limit);
          expect(bare(parts.join(""))).toBe(bare(text));
          for (const part of parts) expect(part.length).toBeLessThanOrEqual(limit);
        },
      ),
    );
  });

  it("is parted after a paragraph, else after a sentence, else between words", () => {
    expect(fitted("One two.\n\nThree four. Five six.", 25)).toEqual(["One two.", "Three four. Five six."]);
    expect(fitted("Three four. Five six.", 15)).toEqual(["Three four.", "Five six."]);
    expect(fitted("seven eight nine", 12)).toEqual(["seven eight", "nine"]);
    expect(fitted("x".repeat(25), 10)).toEqual(["x".repeat(10), "x".repeat(10), "x".repeat(5)]);
  });

  it("is whole where there is no limit, and nothing where there is no text", () => {
    expect(fitted("a b", null)).toEqual(["a b"]);
    expect(fitted("  ", 10)).toEqual([]);
  });
});
