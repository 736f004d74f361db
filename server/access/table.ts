import type { Part, Person } from "../db/school.ts";

/**
 * Who may do what. One row for each thing and act; an act that is not here is allowed to nobody.
 *
 * - `member`: anyone signed in to the school, about themselves only (the query decides which rows that is)
 * - `lead`, `record`, `read`: the part a person has in that student's circle
 * - `author`: whoever wrote the entry, while they still have the part `record`
 */
type Who = "member" | "author" | Part;

export const permissions = {
  "caseload.read": ["member"],
  "live.read": ["member"],
  "palette.read": ["member"],
  "student.read": ["lead", "record", "read"],
  "report.read": ["lead", "record", "read"],
  "entry.read": ["lead", "record", "read"],
  "entry.record": ["lead", "record"],
  "entry.correct": ["lead", "author"],
  "entry.remove": ["lead", "author"],
} as const satisfies Record<string, readonly Who[]>;

export type Permission = keyof typeof permissions;

/** What is known of a person's tie to the thing: the part in its student's circle, and who wrote it. */
export interface Tie {
  part: Part | null;
  authorId?: string;
}

/** The one decision. Everything else in this folder gathers what it needs or says no in the right way. */
export function may(
  person: Pick<Person, "personId">,
  permission: Permission,
  { part, authorId }: Tie,
): boolean {
  const allowed: readonly Who[] = permissions[permission];
  if (allowed.includes("member")) return true;
  if (part === null) return false;
  if (allowed.includes(part)) return true;
  return allowed.includes("author") && part === "record" && authorId === person.personId;
}
