import { readLengthOfTime } from "../words/read-time.ts";

/** How one kind of measure stands on a data sheet, and how a line copied from there is read. */
export interface SheetLine<M> {
  /** The legend of its codes: code and what it stands for. */
  codes: (measure: M) => { code: string; means: string }[];
  /** The columns for one observation: its parts in their order, or numbered places. */
  columns: (measure: M) => string[];
  /** How an observation is typed in one line: an example, and what it says. */
  hint: (measure: M) => string;
  /** What a line says was observed, without its kind; a sentence where something in it is wrong; null where it is not as hinted. */
  read: (measure: M, text: string) => Record<string, unknown> | string | null;
}

/** A whole number of at most seven digits; null for anything else. */
export const whole = (text: string | undefined): number | null =>
  /^\d{1,7}$/.test(text ?? "") ? Number(text) : null;

/** "… in 20 min" at the end of a line: how long it was observed. Undefined where nothing is said, null where it is no time. */
export function cutTime(text: string): { rest: string; seconds: number | undefined | null } {
  const found = /^(.*?)(?:\s+in\s+|^in\s+)(.+)$/i.exec(text);
  return found
    ? { rest: (found[1] ?? "").trim(), seconds: readLengthOfTime(found[2] ?? "") }
    : { rest: text.trim(), seconds: undefined };
}

export const notATime = "After “in” write a time: 4:10, 45 s or 20 min.";

/** The codes of a data sheet, one for each place: a digit for each choice, `-` for not marked. A sentence where they are wrong. */
export function readCodes(
  text: string,
  choices: readonly string[],
  places: number,
  what: string,
): (string | null)[] | string {
  const typed = /\s/.test(text.trim()) ? text.trim().split(/\s+/) : [...text.trim()];
  if (typed.length !== places)
    return `Write ${places} codes, one for each of the ${what}; there are ${typed.length}.`;
  const read = typed.map((code) => (code === "-" ? null : choices[Number(code) - 1]));
  const unknown = typed.find((_, index) => read[index] === undefined);
  return unknown === undefined
    ? (read as (string | null)[])
    : `“${unknown}” is none of the codes 1 to ${choices.length}, or - for not marked.`;
}

/** Places numbered from 1. */
export const numbered = (count: number): string[] =>
  Array.from({ length: count }, (_, index) => String(index + 1));

/** The codes of a ladder's marks, by their place. */
export const markCodes = (marks: readonly string[]): { code: string; means: string }[] =>
  marks.map((means, index) => ({ code: String(index + 1), means }));

export const notMarked = { code: "-", means: "not marked" };
