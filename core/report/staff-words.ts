import type { Catalogue } from "../words/en.ts";
import type { AudienceSettings } from "./audience.ts";

/** How `observerWords` says who wrote it where that was another. */
const writtenBy = ", written by ";

/** "N. Halloran" or "Noor Halloran" as "N.H.". */
const initials = (name: string): string =>
  name
    .split(/\s+/)
    .filter(Boolean)
    .map((part) => `${part.charAt(0).toUpperCase()}.`)
    .join("");

/**
 * A member of staff as an audience reads them: by name, by initials, or not at all.
 *
 * @param author a short or full name, or "T. Brandvold, written by N. Halloran"
 */
export function staffWords(author: string, how: AudienceSettings["staff"], words: Catalogue): string {
  if (how === "none" || author === "") return "";
  const [observer = "", writer] = author.split(writtenBy);
  const called = how === "initials" ? initials : (name: string) => name;
  return writer === undefined ? called(observer) : words.family.writtenBy(called(observer), called(writer));
}
