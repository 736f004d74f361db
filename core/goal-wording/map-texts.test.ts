import fc from "fast-check";
import { expect, it } from "vitest";
import { measures } from "#demo/measures.ts";
import { mapTexts, textsIn } from "./map-texts.ts";

it("changes every text of a value and nothing else, wherever it stands", () => {
  const value = { name: "Wren", list: ["Wren’s bag", 3, null, { Wren: "here" }], count: 2, none: null };
  expect(mapTexts(value, (text) => text.replace("Wren", "Malik"))).toEqual({
    name: "Malik",
    list: ["Malik’s bag", 3, null, { Wren: "here" }],
    count: 2,
    none: null,
  });
  expect(textsIn(value)).toEqual(["Wren", "Wren’s bag", "here"]);
  expect(textsIn(null)).toEqual([]);
});

it("leaves every kind of measure as it was when no text changes", () => {
  for (const measure of Object.values(measures)) expect(mapTexts(measure, (text) => text)).toEqual(measure);
  fc.assert(
    fc.property(fc.jsonValue(), (value) => {
      const same = JSON.parse(JSON.stringify(value)) as unknown;
      expect(mapTexts(same, (text) => text)).toEqual(same);
    }),
  );
});
