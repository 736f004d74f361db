import { interfaceFormats } from "./formats.ts";

/** A list in a sentence: "shouting", "shouting and crying", "shouting, crying, and hitting". */
export const listed = (words: readonly string[], last: "and" | "or" = "and"): string =>
  interfaceFormats().list(words, last);
