import type { Jot } from "../model/jot.ts";
import { jotsEn, type JotWords } from "../words/en/jots.ts";
import type { EntryLine } from "./entry-line.ts";

/** What of a jot is read in its line. */
export type ToldJot = Pick<Jot, "category" | "level" | "own" | "note">;

/** A jot as its reader will see it: what it is about, the level, and the words as they were written. "Work habits: with a reminder." */
export const jotLine = ({ category, level, own, note }: ToldJot, words: JotWords = jotsEn): EntryLine => ({
  sentence: words.line(category?.name ?? null, level?.name ?? null, own),
  note: note?.trim() || null,
});
