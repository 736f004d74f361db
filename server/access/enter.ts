import { redirect } from "react-router";
import { guarded } from "../failure.ts";
import { personOf, readToken } from "../auth/session.ts";
import type { Database } from "../db/connection.ts";
import { type Person, withSchool } from "../db/school.ts";
import { listParts } from "../db/students.ts";
import { may, type Permission } from "./table.ts";
import { isId, notFound, requirePermission, type Visit } from "./visit.ts";

/** What a request brings along from the web server. */
export interface ServerContext {
  database: Database;
  /** Is the person's connection encrypted, as far as the trusted proxy says? */
  secure: boolean;
  /** The person's network address, for rate limits only. */
  address: string;
}

/** Asking by itself, time and again, is no use of the session (`touch: false`): it keeps nobody signed in. */
interface Asking {
  touch?: boolean;
}

export async function requirePerson(
  request: Request,
  context: ServerContext,
  asking: Asking = {},
): Promise<Person> {
  const person = await personOf(context.database, readToken(request, context.secure), asking);
  if (person) return person;
  // After a form that came too late, the way leads back to its page, where what was marked is waiting.
  const { pathname, search } = new URL(request.url);
  const back = pathname === "/" ? "" : `?to=${encodeURIComponent(pathname + search)}`;
  throw redirect(`/sign-in${back}`);
}

/** What is asked first where an author may too: who wrote it is known once it is read. */
const beforeAuthor: Partial<Record<Permission, Permission>> = {
  "entry.correct": "entry.read",
  "entry.remove": "entry.read",
  "incident.correct": "incident.read",
  "plan.correct": "incident.read",
};

/**
 * The door of every loader, action, resource route and stream: who is it, may they, and then one transaction in their
 * school. Signed out: to the sign-in page. Outside the student's circle, or another school's: "not found".
 * What `work` returns, redirects included, commits; whatever it throws takes everything back.
 */
export async function enter<T>(
  request: Request,
  context: ServerContext,
  permission: Permission,
  studentId: string | null,
  work: (visit: Visit) => Promise<T>,
  asking: Asking = {},
): Promise<T> {
  return guarded(async () => {
    const person = await requirePerson(request, context, asking);
    if (studentId !== null && !isId(studentId)) notFound();
    return withSchool(context.database, person, studentId, (entered) => {
      const visit = { ...entered, person };
      // The query that changes what an author may change asks again, with its author.
      requirePermission(visit, beforeAuthor[permission] ?? permission);
      return work(visit);
    });
  });
}

/** The same visit, turned to another student as well: what is asked of them is asked of that student's circle. */
export async function alsoEnter(visit: Visit, permission: Permission, studentId: string): Promise<Visit> {
  if (!isId(studentId)) notFound();
  const [found] = await listParts(visit, [studentId]);
  const other = { ...visit, part: found?.part ?? null };
  requirePermission(other, permission);
  return other;
}

/** The visit of a colleague who took over this person's device; null where they may not do this for that student. */
export async function actFor(
  visit: Visit,
  colleague: Person,
  permission: Permission,
  studentId: string,
): Promise<Visit | null> {
  const [found] = await listParts({ ...visit, person: colleague }, [studentId]);
  const theirs = { ...visit, person: colleague, part: found?.part ?? null };
  return may(colleague, permission, { part: theirs.part }) ? theirs : null;
}

/**
 * What a live stream may tell its viewer: of the students that changed, those the viewer may read of now. Null once the
 * session is over. Asking is no use of the session: an open stream keeps nobody signed in.
 */
export async function readableNow(
  request: Request,
  context: ServerContext,
  studentIds: readonly string[],
): Promise<string[] | null> {
  const person = await personOf(context.database, readToken(request, context.secure), { touch: false });
  if (!person || !may(person, "live.read", { part: null })) return null;
  if (studentIds.length === 0) return [];
  const parts = await withSchool(context.database, person, null, (entered) =>
    listParts({ ...entered, person }, studentIds),
  );
  return parts.filter(({ part }) => may(person, "student.read", { part })).map(({ studentId }) => studentId);
}
