/** The blanks that the application fills by itself: how the student is called, and the due date. */
export const studentBlank = "student";
export const dateBlank = "date";

const blankPattern = /\{([^{}\n]{1,40})\}/g;

/**
 * The blanks of a wording, each once, in the order in which they come.
 *
 * @example blanksIn("By {date}, {student} will read {number} words; {student} …") // ["date", "student", "number"]
 */
export function blanksIn(wording: string): string[] {
  const names = [...wording.matchAll(blankPattern)].map((found) => (found[1] ?? "").trim());
  return [...new Set(names)].filter((name) => name !== "");
}

/** Puts values into the blanks of a wording; a blank without a value stays as it is. */
export function fillBlanks(wording: string, values: Readonly<Record<string, string | undefined>>): string {
  return wording.replace(blankPattern, (blank, name: string) => {
    const value = Object.hasOwn(values, name.trim()) ? values[name.trim()]?.trim() : undefined;
    return value ? value : blank;
  });
}
