import type { Actor, CircleRole } from "./actor.ts";

/**
 * Who may do what. One row for each thing and act; an act that is not here is allowed to nobody.
 *
 * - `member`: anyone signed in to the school, about themselves or the school's own lists only (the query decides which rows)
 * - `administrator`, `case manager`: whoever has that task in the school, about the school and never about a student's record; an
 *   administrator also says who is in a circle
 * - `lead`, `record`, `read`: the role a person has in that student's circle
 * - `author`: whoever wrote the entry, or writes the statements of the goal, while they still have the role `record`
 * - `maker`: whoever made the thing, where it belongs to the school and to no student
 * - `job`: work of the server itself
 * - `link`: whoever opens a shared link, about the one student it was made for
 * - `student`: a student at a device of their own, about themselves
 */
type Who =
  "member" | "administrator" | "case manager" | "author" | "maker" | "job" | "link" | "student" | CircleRole;

export const permissions = {
  "caseload.read": ["member"],
  "coverage.read": ["member"],
  "data.ask": ["lead"],
  "figures.read": ["member"],
  "live.read": ["member"],
  "summaries.check": ["job"],
  "messages.send": ["job"],
  "audit.seal": ["job"],
  "messages.read": ["member"],
  "messages.many": ["member"],
  "messages.all": ["administrator"],
  "palette.read": ["member"],
  "guide.read": ["member"],
  "wording.read": ["member"],
  "sitting.open": ["member"],
  "device.keep": ["member"],
  "own-settings.keep": ["member"],
  "school.read": ["member"],
  "school.edit": ["administrator", "case manager"],
  "staff.edit": ["administrator"],
  "student.add": ["administrator", "case manager"],
  "template.read": ["member"],
  "template.add": ["member"],
  "template.change": ["administrator", "case manager", "maker"],
  "student.read": ["lead", "record", "read"],
  "report.read": ["lead", "record", "read", "link"],
  "entry.read": ["lead", "record", "read"],
  "goal.edit": ["lead"],
  "taught.note": ["lead", "record"],
  "student.edit": ["lead"],
  "absence.mark": ["lead", "record"],
  "entry.record": ["lead", "record"],
  "entry.correct": ["lead", "author"],
  "entry.remove": ["lead", "author"],
  "tally.settle": ["lead"],
  "incident.read": ["lead", "record", "read"],
  "incident.record": ["lead", "record"],
  "incident.correct": ["lead", "author"],
  "incident.join": ["lead", "author"],
  "jot.read": ["lead", "record", "read"],
  "jot.record": ["lead", "record"],
  "jot.correct": ["lead", "author"],
  "plan.write": ["lead", "record"],
  "plan.correct": ["lead", "author"],
  "school.patterns": ["administrator", "case manager"],
  "choices.read": ["lead", "record"],
  "choices.edit": ["lead"],
  "statement.read": ["lead", "record", "read"],
  "statement.write": ["lead", "author"],
  "statement.assign": ["lead"],
  "edition.make": ["lead"],
  "edition.read": ["lead", "record", "read"],
  "edition.share": ["lead"],
  "file.make": ["lead", "job"],
  "packet.make": ["member"],
  "meeting.lead": ["lead"],
  "packet.work": ["job"],
  "circle.read": ["lead", "record", "read", "administrator"],
  "circle.edit": ["lead", "administrator"],
  "circles.edit": ["administrator", "case manager"],
  "feedback.ask": ["lead"],
  "feedback.read": ["lead", "record", "read"],
  "held.decide": ["lead"],
  "family.read": ["lead", "record", "read"],
  "family.edit": ["lead"],
  "family.answer": ["lead"],
  "family.ask": ["link"],
  "rights.read": ["lead", "administrator"],
  "rights.edit": ["lead", "administrator"],
  "rights.ask": ["link"],
  "parent-statement.read": ["lead", "record", "read"],
  "parent-statement.write": ["lead"],
  "retention.read": ["administrator", "case manager"],
  "retention.edit": ["administrator"],
  "record.erase": ["administrator"],
  "record.clear": ["job"],
  "year.roll": ["administrator", "case manager"],
  "access-record.read": ["lead"],
  "access-record.family": ["link"],
  "events.read": ["administrator"],
  "names.read": ["member"],
  "names.remember": ["lead", "record"],
} as const satisfies Record<string, readonly Who[]>;

export type Permission = keyof typeof permissions;

/** What is known of an actor's tie to the thing: the role in its student's circle, which student, and who wrote it. */
export interface Tie {
  circleRole: CircleRole | null;
  /** Who wrote it down; where it is about several things, the authors of all: any one of them counts. */
  authorId?: string | readonly string[] | undefined;
  /** The student it is about: asked of links and students, who are tied to one. */
  studentId?: string | null;
}

/** The one decision. Everything else in this folder gathers what it needs or says no in the right way. */
export function may(actor: Actor, permission: Permission, { circleRole, authorId, studentId }: Tie): boolean {
  const allowed: readonly Who[] = permissions[permission];
  if (actor.kind === "job") return allowed.includes("job");
  if (actor.kind !== "person") return allowed.includes(actor.kind) && studentId === actor.studentId;
  const wrote = authorId === actor.personId || (Array.isArray(authorId) && authorId.includes(actor.personId));
  if (allowed.includes("member")) return true;
  if (allowed.includes("administrator") && actor.role === "administrator") return true;
  if (allowed.includes("case manager") && actor.caseManager) return true;
  if (allowed.includes("maker") && wrote) return true;
  if (circleRole === null) return false;
  if (allowed.includes(circleRole)) return true;
  return allowed.includes("author") && circleRole === "record" && wrote;
}
