/** A student as one line of a list names them. */
export interface ReadName {
  given: string;
  /** Empty where there is one name only. */
  family: string;
  /** Empty where the line says none. */
  grade: string;
}

/** "K", "PK", "TK", "3", "3rd", "grade 3", "3rd grade", "12th gr." */
const gradeWords =
  /^(?:(?:grade|gr\.?|year)\s*)?(pre-?k|pk|tk|k|kindergarten|1[0-2]|[1-9])(?:st|nd|rd|th)?(?:\s*(?:grade|gr\.?))?$/i;

function gradeOf(text: string): string | null {
  const found = gradeWords.exec(text.trim())?.[1]?.toLowerCase();
  if (found === undefined) return null;
  if (/^\d/.test(found)) return found;
  return found.startsWith("p") ? "PK" : found === "tk" ? "TK" : "K";
}

/** Small words with which a family name begins: "de la Cruz", "van den Berg". */
const particles = new Set([
  "de",
  "del",
  "della",
  "der",
  "den",
  "di",
  "da",
  "dos",
  "du",
  "la",
  "le",
  "van",
  "von",
  "bin",
  "al",
  "el",
  "st.",
]);

/** Splits a name that is written in the order of speech: the last word, with the small words before it, is the family name. */
export function splitName(text: string): { given: string; family: string } {
  const words = text.split(/\s+/).filter(Boolean);
  const particle = words.findIndex((word, at) => at > 0 && particles.has(word.toLowerCase()));
  const from = particle > 0 ? particle : Math.max(1, words.length - 1);
  return { given: words.slice(0, from).join(" "), family: words.slice(from).join(" ") };
}

/** A grade at the end of a name without a comma: "Wren Abara 2", "Wren Abara (grade 2)", "Wren Abara 2nd grade". */
function splitGrade(text: string): { name: string; grade: string } {
  const bare = text.replace(/\((.*)\)\s*$/, "$1").trim();
  const words = bare.split(/\s+/);
  for (const count of [2, 1]) {
    const grade = words.length > count ? gradeOf(words.slice(-count).join(" ")) : null;
    // One letter alone may be an initial, as in "Wren K".
    if (grade !== null && !(count === 1 && /^k$/i.test(words.at(-1) ?? "")))
      return { name: words.slice(0, -count).join(" "), grade };
  }
  return { name: text.trim(), grade: "" };
}

/**
 * Reads names as people paste them, one a line: "Wren Abara", "Abara, Wren", with a grade after a comma, a tab or a blank. Numbering
 * and bullets before a name are left out, empty lines too. What it makes of a line is shown to the person before anything is saved.
 */
export function readNames(text: string): ReadName[] {
  return text.split(/\r?\n/).flatMap((line) => {
    const clean = line.replace(/^\s*(?:\d+[.)]|[-*•–])\s+/, "").trim();
    if (clean === "") return [];
    const isTable = clean.includes("\t");
    const parts = clean
      .split(isTable ? /\t+/ : /[,;]/)
      .map((part) => part.trim().replaceAll(/\s+/g, " "))
      .filter(Boolean);
    const last = parts.length > 1 ? gradeOf(parts.at(-1) ?? "") : null;
    const named = last === null ? parts : parts.slice(0, -1);
    const [first = "", second] = named;
    if (second !== undefined)
      // In a table the given name stands first; before a comma the family name does.
      return [
        isTable
          ? { given: first, family: second, grade: last ?? "" }
          : { given: second, family: first, grade: last ?? "" },
      ];
    const { name, grade } = last === null ? splitGrade(first) : { name: first, grade: last };
    return name === "" ? [] : [{ ...splitName(name), grade }];
  });
}
