import type { Page } from "@playwright/test";

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

// Choices of the demo school's own lists, and what its people wrote: those are theirs to word. And how another country writes a time.
const written = ["told no", "told to wait", "Found the list by herself", "26 Nov 2026, 13:20"];

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
export const wordsToAvoid = (text: string) => {
  const ours = written.reduce((left, words) => left.replaceAll(words, ""), text);
  return [...new Set(ours.split("\n").filter((line) => avoid.test(line)))];
};

/** The lines of what is on the screen that have a word to avoid. */
export const wordsToAvoidOn = async (page: Page) => wordsToAvoid(await page.evaluate(textOf));
