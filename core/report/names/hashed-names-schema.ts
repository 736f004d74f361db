import * as z from "zod/mini";

const hashes = z.string().check(z.regex(/^(?:[\w-]{6})*$/));
const byKind = z.object({ given: hashes, family: hashes, initials: hashes });

/**
 * The names of a school's students and adults as hashes, so that a device can look for them in a note and holds none of them. Each
 * string is hashes of six letters one after the other.
 */
export const hashedNamesSchema = z.object({
  salt: z.string(),
  students: byKind,
  /** Forms that are ordinary words too. */
  words: hashes,
  staff: hashes,
  /** By student: their own names, and what names nobody in their record. */
  of: z.record(z.string(), z.object({ own: byKind, quiet: hashes })),
});
export interface HashedNames extends z.infer<typeof hashedNamesSchema> {}
