import { dateBlank, studentBlank } from "./blanks.ts";
import { readDue } from "./due.ts";
import { workingText } from "./working-text.ts";

/** A name as a whole word, in its own capitals: "Will" is a student, "will" is not. */
function namePattern(names: readonly string[]): RegExp | null {
  const said = names
    .map((name) => name.trim())
    .filter((name) => name !== "")
    .sort((a, b) => b.length - a.length)
    .map((name) => name.replace(/[.*+?^${}()|[\]\\]/g, "\\$&"));
  return said.length === 0
    ? null
    : new RegExp(`(?<![\\p{L}\\p{M}\\p{N}])(?:${said.join("|")})(?![\\p{L}\\p{M}\\p{N}])`, "gu");
}

/** Which of these names stand in a text, each once. */
export function namesIn(text: string, names: readonly string[]): string[] {
  const pattern = namePattern(names);
  return pattern ? [...new Set([...text.matchAll(pattern)].map(([name]) => name))] : [];
}

/** A text in which every one of these names is replaced; nothing else changes. */
export function withoutNames(text: string, names: readonly string[], instead: string): string {
  const pattern = namePattern(names);
  return pattern ? text.replace(pattern, () => instead) : text;
}

/**
 * A wording made ready for another student or another year: the student's names become `{student}`, the due date becomes
 * `{date}`. Dates that are not the due date, such as those of interim benchmarks, are left for a person to look at.
 *
 * @param names every way in which the wording may call the student: whole, given, preferred
 *
 * Source: ours.
 *
 * @example withBlanks("By 14 March 2027, Wren will …", ["Wren"]) // "By {date}, {student} will …"
 */
export function withBlanks(wording: string, names: readonly string[]): string {
  const { due } = readDue(workingText(wording));
  const dated = due ? `${wording.slice(0, due.span[0])}{${dateBlank}}${wording.slice(due.span[1])}` : wording;
  return withoutNames(dated, names, `{${studentBlank}}`);
}

/** Words for a person that may not suit the next student: "he", "her", "himself", each once, as they stand. */
export function pronounsIn(wording: string): string[] {
  const found = wording.match(/\b(?:he|she|him|her|hers|his|himself|herself)\b/gi) ?? [];
  return [...new Set(found.map((word) => word.toLowerCase()))];
}
