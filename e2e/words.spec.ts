import { expect, test } from "@playwright/test";
import { wordsToAvoid } from "./words.ts";

test("the search for words to avoid finds each, and no other", () => {
  const wrong = ["Nothing was said.", "It stands here.", "1 times", "80 %", "at 13:05", "Ask whoever it is."];
  expect(wordsToAvoid(wrong.join("\n"))).toEqual(wrong);
  expect(wordsToAvoid("The standing is understood: 11 times, 80%, 1:05 PM, 21 days, told no.")).toEqual([]);
});
