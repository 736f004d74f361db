import { initialsOf } from "../../model/student-names.ts";
import type { Student } from "../../model/student.ts";
import { nicknamesOf } from "./nicknames.ts";
import { normaliseName } from "./normalise-name.ts";

/** How a piece of text can name a student. */
export const nameKinds = ["given", "family", "initials"] as const;
export type NameKind = (typeof nameKinds)[number];

/** The forms by which a student can be named, normalised, by their kind. */
export type NameForms = Record<NameKind, string[]>;

/** Small words of family names: "de", "la", "van". Alone they name nobody. */
const particles = new Set([
  "de",
  "del",
  "la",
  "las",
  "los",
  "y",
  "da",
  "do",
  "dos",
  "van",
  "von",
  "der",
  "den",
  "al",
  "el",
  "bin",
  "st",
]);
const shortest = 2;

/** A name of several words: whole, each hyphenated word whole and in parts, each word of its own. */
function formsOf(name: string): string[] {
  const words = name.trim().split(/\s+/u).filter(Boolean);
  const parts = words.flatMap((word) => [word, ...word.split("-")]);
  return [name, ...parts]
    .map(normaliseName)
    .filter((form) => form.length >= shortest && !particles.has(form));
}

const distinct = (forms: readonly string[]) => [...new Set(forms)];

/**
 * Every form by which others may name a student in a note: given and preferred name, common short forms, family name in parts, alias,
 * initials.
 *
 * @param initialsOfOwn those the school gave the student, where they are not made of the name
 */
export function nameFormsOf({
  givenName,
  familyName,
  preferredName,
  alias,
  ownInitials,
}: Pick<Student, "givenName" | "familyName" | "preferredName" | "alias" | "ownInitials">): NameForms {
  const given = [givenName, preferredName ?? "", alias ?? ""].flatMap(formsOf);
  return {
    given: distinct([...given, ...given.flatMap(nicknamesOf)]),
    family: distinct(formsOf(familyName)),
    initials: distinct(
      [ownInitials ?? "", initialsOf(givenName, familyName)]
        .map(normaliseName)
        .filter((form) => form.length >= shortest),
    ),
  };
}
