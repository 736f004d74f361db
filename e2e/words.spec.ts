import { expect, signIn, test } from "./site.ts";
import { generalViews, incidentViews, recordingViews } from "./views.ts";

/** What a page says to eyes and to a screen reader: its text with the closed parts, its title, its labels and hints. */
const textOf = () =>
  [
    document.title,
    document.body.innerText,
    ...[...document.querySelectorAll("details:not([open]) > :not(summary)")].map(
      (closed) => closed.textContent,
    ),
    ...[...document.querySelectorAll("[aria-label], [placeholder], [title], [alt]")].flatMap((element) =>
      ["aria-label", "placeholder", "title", "alt"].map((name) => element.getAttribute(name) ?? ""),
    ),
  ].join("\n");

// Choices of the demo school's own lists, and what its people wrote: those are theirs to word.
const written = ["told no", "told to wait", "Found the list by herself"];

// The list of docs/wording.md.
const avoided = [
  "said",
  "stands?",
  "kept",
  "told",
  "looked after",
  "reckoned",
  "whoever",
  "whatever",
  "somebody",
  "meanwhile",
  "goes by",
  "what is so",
  "this is for someone else",
  "write one down",
  "from the foot up",
  "one a line",
  "into the report",
  "take (?:it )?(?:away|out)",
  "1 (?:times|days|points|incidents|entries|sessions|goals|students|weeks)",
  String.raw`\d+ %`,
  String.raw`(?:1[3-9]|2[0-3]):[0-5]\d(?! [AP]M)`,
];
const avoid = new RegExp(String.raw`(?<![\w.-])(?:${avoided.join("|")})(?!\w)`, "i");

/** The lines of a text that have a word to avoid. */
const wordsToAvoid = (text: string) => {
  const ours = written.reduce((left, words) => left.replaceAll(words, ""), text);
  return [...new Set(ours.split("\n").filter((line) => avoid.test(line)))];
};

test("the search for words to avoid finds each, and no other", () => {
  const wrong = ["Nothing was said.", "It stands here.", "1 times", "80 %", "at 13:05", "Ask whoever it is."];
  expect(wordsToAvoid(wrong.join("\n"))).toEqual(wrong);
  expect(wordsToAvoid("The standing is understood: 11 times, 80%, 1:05 PM, 21 days, told no.")).toEqual([]);
});

for (const [part, viewsOf] of Object.entries({
  general: generalViews,
  recording: recordingViews,
  incidents: incidentViews,
}))
  test(`no view has a word to avoid, ${part}`, async ({ page, site }) => {
    test.setTimeout(240_000);
    await signIn(page, "noor");
    for (const [view, open] of Object.entries(viewsOf(page, site))) {
      await open();
      expect.soft({ view, found: wordsToAvoid(await page.evaluate(textOf)) }).toEqual({ view, found: [] });
    }
  });
