import type { Part, Person } from "../db/school.ts";

/**
 * Who may do what. One row for each thing and act; an act that is not here is allowed to nobody.
 *
 * - `member`: anyone signed in to the school, about themselves or the school's own lists only (the query decides which rows)
 * - `administrator`, `case manager`: whoever has that task in the school, about the school and never about a student
 * - `lead`, `record`, `read`: the part a person has in that student's circle
 * - `author`: whoever wrote the entry, while they still have the part `record`
 * - `maker`: whoever made the thing, where it belongs to the school and to no student
 */
type Who = "member" | "administrator" | "case manager" | "author" | "maker" | Part;

export const permissions = {
  "caseload.read": ["member"],
  "figures.read": ["member"],
  "live.read": ["member"],
  "palette.read": ["member"],
  "wording.read": ["member"],
  "sitting.open": ["member"],
  "device.keep": ["member"],
  "school.read": ["member"],
  "school.edit": ["administrator", "case manager"],
  "staff.edit": ["administrator"],
  "student.add": ["administrator", "case manager"],
  "template.read": ["member"],
  "template.add": ["member"],
  "template.change": ["administrator", "case manager", "maker"],
  "student.read": ["lead", "record", "read"],
  "report.read": ["lead", "record", "read"],
  "entry.read": ["lead", "record", "read"],
  "goal.edit": ["lead"],
  "taught.note": ["lead", "record"],
  "student.edit": ["lead"],
  "absence.mark": ["lead", "record"],
  "entry.record": ["lead", "record"],
  "entry.correct": ["lead", "author"],
  "entry.remove": ["lead", "author"],
  "incident.read": ["lead", "record", "read"],
  "incident.record": ["lead", "record"],
  "incident.correct": ["lead", "author"],
  "plan.write": ["lead", "record"],
  "plan.correct": ["lead", "author"],
  "school.patterns": ["administrator", "case manager"],
  "choices.read": ["lead", "record"],
  "choices.edit": ["lead"],
} as const satisfies Record<string, readonly Who[]>;

export type Permission = keyof typeof permissions;

/** What is known of a person's tie to the thing: the part in its student's circle, and who wrote it. */
export interface Tie {
  part: Part | null;
  authorId?: string;
}

/** The one decision. Everything else in this folder gathers what it needs or says no in the right way. */
export function may(
  person: Pick<Person, "personId" | "role" | "caseManager">,
  permission: Permission,
  { part, authorId }: Tie,
): boolean {
  const allowed: readonly Who[] = permissions[permission];
  if (allowed.includes("member")) return true;
  if (allowed.includes("administrator") && person.role === "administrator") return true;
  if (allowed.includes("case manager") && person.caseManager) return true;
  if (allowed.includes("maker") && authorId === person.personId) return true;
  if (part === null) return false;
  if (allowed.includes(part)) return true;
  return allowed.includes("author") && part === "record" && authorId === person.personId;
}
