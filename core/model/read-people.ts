import { splitName } from "./read-names.ts";

/** A colleague as one line of a list names them. */
export interface ReadPerson {
  given: string;
  /** Empty where there is one name only. */
  family: string;
  /** In small letters; empty where the line has none. */
  email: string;
  /** Empty where the line says none. */
  position: string;
}

const address = /[^\s<>"',;()]+@[^\s<>"',;()]+/;

/**
 * Reads colleagues as people paste them, one a line: "Ana Ruiz, ana@school.example, aide", "Ana Ruiz <ana@school.example>", or the cells of
 * a table. The e-mail is what has an @; of the rest the first part is the name, in the order of speech, and the next one the position.
 * What it makes of a line is shown to the person before anything is saved.
 */
export function readPeople(text: string): ReadPerson[] {
  return text.split(/\r?\n/).flatMap((line) => {
    const clean = line.replace(/^\s*(?:\d+[.)]|[-*•–])\s+/, "").trim();
    if (clean === "") return [];
    const email = address.exec(clean)?.[0].toLowerCase() ?? "";
    const parts = clean
      .replace(address, ",")
      .split(/[,;\t<>]/)
      .map((part) => part.replaceAll(/["()]/g, "").trim().replaceAll(/\s+/g, " "))
      .filter(Boolean);
    const [name = "", position = ""] = parts;
    return [{ ...splitName(name), email, position }];
  });
}
