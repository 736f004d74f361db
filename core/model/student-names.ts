import type { Student } from "./student.ts";

const graphemes = new Intl.Segmenter(undefined, { granularity: "grapheme" });

/** Asked for with every row that has an author, and there are few of them. */
const letters = new Map<string, string>();
const mostNames = 10_000;

/** The first letter of a name in any script, whole where a letter takes more than one code unit. */
function firstLetter(name: string): string {
  const known = letters.get(name);
  if (known !== undefined) return known;
  const [segment] = graphemes.segment(name.trim());
  const letter = (segment?.segment ?? "").toUpperCase();
  if (letters.size < mostNames) letters.set(name, letter);
  return letter;
}

/** "W.A.", and "W." of one name. */
export function initialsOf(given: string, family: string): string {
  return [given, family].flatMap((name) => (name.trim() === "" ? [] : [`${firstLetter(name)}.`])).join("");
}

/** "N. Halloran" */
export function shortName(given: string, family: string): string {
  return `${firstLetter(given)}. ${family}`;
}

/** Every way in which a text may call a student. */
export function namesOf({
  name,
  givenName,
  familyName,
  calledName,
  initials,
}: Pick<Student, "name" | "givenName" | "familyName" | "calledName" | "initials">): string[] {
  const all = [name, `${calledName} ${familyName}`, givenName, calledName, familyName, initials];
  return all.map((one) => one.trim()).filter((one) => one !== "");
}
