/**
 * The wording as the reader works on it: lower case, one kind of quote, dash and space, and letter by letter as long as the
 * original, so that a place in it is the same place in the wording.
 */
export type WorkingText = string;

/** A place in the wording, from the first character to after the last. */
export type Span = [from: number, to: number];

const sameLength = (original: string, changed: string) =>
  changed.length === original.length ? changed : original;

/**
 * The wording in lower case with plain quotes, dashes and spaces. Every letter keeps its place, so that what is found can be shown in the
 * wording itself.
 */
export function workingText(wording: string): WorkingText {
  return [...wording]
    .map((letter) => {
      if (/[\u2018\u2019\u02BC]/.test(letter)) return "'";
      if (/[\u201C\u201D]/.test(letter)) return '"';
      if (/[\u2010-\u2015\u2212]/.test(letter)) return "-";
      if (/\s/.test(letter)) return " ";
      return sameLength(letter, letter.toLowerCase());
    })
    .join("");
}

/** Puts what is understood, or what is to be left aside, out of the way: each letter of it becomes `mark`. */
export function mask(text: WorkingText, [from, to]: Span, mark = "\u00b7"): WorkingText {
  return text.slice(0, from) + mark.repeat(to - from) + text.slice(to);
}

/** Masks every match of a pattern that `left` does not decline; a group named `out` narrows what is masked. */
export function maskAll(
  text: WorkingText,
  pattern: RegExp,
  left: (found: RegExpExecArray) => boolean = () => true,
): WorkingText {
  let masked = text;
  for (const found of text.matchAll(new RegExp(pattern.source, "gd"))) {
    const span = found.indices?.groups?.["out"] ?? found.indices?.[0];
    if (span && left(found)) masked = mask(masked, span);
  }
  return masked;
}

/** All matches of a pattern with named groups, each with its place. */
export function findAll(
  text: WorkingText,
  pattern: RegExp,
): { groups: Record<string, string | undefined>; span: Span; text: string }[] {
  return [...text.matchAll(new RegExp(pattern.source, "g"))].map((found) => ({
    groups: found.groups ?? {},
    span: [found.index, found.index + found[0].length],
    text: found[0],
  }));
}
