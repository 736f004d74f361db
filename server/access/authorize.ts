import { data, redirect, redirectDocument } from "react-router";
import { ownSchools, personOf, readToken } from "../auth/session.ts";
import type { Database } from "../db/connection.ts";
import { NotFound, notFound, Refused, SessionOver } from "../errors.ts";
import { noteReads, noteRefused, readThing } from "../db/reads.ts";
import { withScope } from "../db/school.ts";
import { isStudentHere, listCircleRoles } from "../db/students.ts";
import { writeIn } from "../locale.ts";
import type { PersonActor } from "./actor.ts";
import { log, loggableError, type Pulse } from "../failure.ts";
import { guarded } from "./answer.ts";
import { isId, type PersonScope, requirePermission } from "./scope.ts";
import { may, type Permission } from "./table.ts";
import { whoMay } from "../db/who-may.ts";

/** What a request brings along from the web server. */
export interface ServerContext {
  database: Database;
  /** Is the person's connection encrypted, as far as the trusted proxy says? */
  secure: boolean;
  /** The person's network address, for rate limits only. */
  address: string;
  /** Does this server send mail? */
  mails?: boolean;
  /** Whether the database answers. Absent where nothing watches it. */
  pulse?: Pulse;
}

interface Asking {
  /** `false` for requests that a page makes by itself: they do not keep the session alive. */
  touch?: boolean;
  /** `false` where nothing of the record is shown. */
  shows?: boolean;
}

/** The header in which a page says for whom it was made. Forms without scripts, and addresses that are opened, have none. */
const actingAs = "Acting-As";

/** How a file that is fetched is noted. */
const asFile = { act: "exported", way: "file" } as const;

/** Is this answer saved by the browser, and not shown? */
const isFile = (answer: unknown): boolean =>
  answer instanceof Response && (answer.headers.get("Content-Disposition") ?? "").startsWith("attachment");

const askedOnce = new WeakMap<ServerContext, Promise<PersonActor | null>>();

/**
 * The person behind a request, asked once for all loaders of a page: they share one context. What is sent is asked for itself, since
 * it may change who the person is.
 */
function personBehind(request: Request, context: ServerContext, asking: Asking): Promise<PersonActor | null> {
  const ask = () => personOf(context.database, readToken(request, context.secure), asking);
  if (request.method !== "GET") return ask();
  const asked = askedOnce.get(context) ?? ask();
  askedOnce.set(context, asked);
  return asked;
}

/** What a person may do whose school asks for a second step that is not set up: set it up, turn to another school, and sign out. */
const withoutStep: ReadonlySet<string> = new Set(["/account/second-step", "/schools", "/sign-out"]);

/** The person behind a request; a redirect to the sign-in page where there is none. */
export async function requirePerson(
  request: Request,
  context: ServerContext,
  asking: Asking = {},
): Promise<PersonActor> {
  const person = await personBehind(request, context, asking);
  const isFree = withoutStep.has(new URL(request.url).pathname.replace(/\.data$/, ""));
  if (person && (!person.missesStep || isFree)) {
    writeIn(person.locale);
    const shownTo = request.headers.get(actingAs);
    if (shownTo === null || shownTo === person.personId) return person;
    // The page was made for another person, or for the same one in another school: another tab has turned since.
    if (request.method === "GET") throw redirectDocument("/caseload");
    throw data({ kind: "turned" }, { status: 409 });
  }
  // The school asks for a second step: nothing else is there before it is set up.
  return signedOut(request, person ? "/account/second-step" : null);
}

/** Answers a request of which nobody is behind it, or nobody who may be here before they have been elsewhere. */
function signedOut(request: Request, elsewhere: string | null): never {
  // A device is told so in words of ours: a redirect could be anybody's who stands between, as in a hotel's network.
  if (request.method === "POST" && new URL(request.url).pathname.startsWith("/recording/"))
    throw data({ kind: "signed-out" }, { status: 401 });
  if (elsewhere !== null) throw redirect(elsewhere);
  // After a form that came too late, the way leads back to its page, where what was marked is waiting.
  const { pathname, search } = new URL(request.url);
  const back = pathname === "/" ? "" : `?to=${encodeURIComponent(pathname + search)}`;
  throw redirect(`/sign-in${back}`);
}

/**
 * Opens the scope of every loader, action, resource route and stream: who is it, may they, and then one transaction in their school.
 * Signed out: to the sign-in page. Outside the student's circle, or another school's: "not found".
 * What `work` returns, redirects included, commits; whatever it throws takes everything back.
 */
export async function authorize<T>(
  request: Request,
  context: ServerContext,
  permission: Permission,
  studentId: string | null,
  work: (scope: PersonScope) => Promise<T>,
  asking: Asking = {},
): Promise<T> {
  return guarded(async () => {
    const person = await requirePerson(request, context, asking);
    if (studentId !== null && !isId(studentId)) notFound();
    let isInside = studentId === null;
    return withScope(context.database, person, studentId, async (scope) => {
      // Who could be the author passes; the query that changes the thing asks again, with its author.
      try {
        requirePermission(scope, permission, person.personId);
      } catch (error) {
        throw error instanceof Refused
          ? new Refused(await whoMay(scope, permission), studentId === null)
          : error;
      }
      // An administrator outside the circle comes no further than to the students of their school.
      if (studentId !== null && scope.circleRole === null && !(await isStudentHere(scope, studentId)))
        notFound();
      isInside = true;
      const done = await work(scope);
      const thing = readThing(permission);
      if (request.method === "GET" && studentId !== null && thing !== null && asking.shows !== false)
        await noteReads(scope, thing, [studentId], isFile(done) ? asFile : {});
      return done;
    }).catch(async (error: unknown) => {
      // What was taken back cannot hold it: a transaction of its own does.
      if (error instanceof Refused || (error instanceof NotFound && !isInside))
        await withScope(context.database, person, null, (scope) =>
          noteRefused(scope, studentId, permission),
        ).catch((unnoted: unknown) => log.error({ error: loggableError(unnoted) }, "refusal not noted"));
      // It ended in the moment between.
      if (error instanceof SessionOver) signedOut(request, null);
      throw error;
    });
  }, context.pulse);
}

/**
 * The same scope, turned to other students as well: what is asked of each is asked of that student's circle.
 *
 * @returns a scope for each student
 */
export async function alsoAuthorizeEach(
  scope: PersonScope,
  permission: Permission,
  studentIds: readonly string[],
): Promise<Map<string, PersonScope>> {
  if (!studentIds.every(isId)) notFound();
  const roles = new Map(
    (await listCircleRoles(scope, studentIds)).map(({ studentId, circleRole }) => [studentId, circleRole]),
  );
  return new Map(
    studentIds.map((studentId) => {
      const other = { ...scope, studentId, circleRole: roles.get(studentId) ?? null };
      requirePermission(other, permission);
      return [studentId, other];
    }),
  );
}

/** The same for one student. */
export async function alsoAuthorize(
  scope: PersonScope,
  permission: Permission,
  studentId: string,
): Promise<PersonScope> {
  return (await alsoAuthorizeEach(scope, permission, [studentId])).get(studentId) ?? notFound();
}

/** The scope of a colleague who took over this person's device; null where they may not do this for that student. */
export async function authorizeColleague(
  scope: PersonScope,
  colleague: PersonActor,
  permission: Permission,
  studentId: string,
): Promise<PersonScope | null> {
  const [found] = await listCircleRoles({ ...scope, actor: colleague }, [studentId]);
  const theirs = { ...scope, studentId, actor: colleague, circleRole: found?.circleRole ?? null };
  return may(colleague, permission, { circleRole: theirs.circleRole }) ? theirs : null;
}

/**
 * Was a page made for the same account in another school? Then it is not read again by itself: the answer would be the other school's
 * caseload, and what is typed in the page would be lost. Asking is no use of the session.
 *
 * @param shownTo the person the page was made for
 */
export async function isTurned(request: Request, context: ServerContext, shownTo: string): Promise<boolean> {
  const token = readToken(request, context.secure);
  const person = await personOf(context.database, token, { touch: false });
  if (!person || person.personId === shownTo) return false;
  return (await ownSchools(context.database, token)).some(({ personId }) => personId === shownTo);
}

/**
 * What a live stream may tell its viewer now: the date in their school, and the students they may read of. Null once the session is over.
 * Asking is no use of the session: an open stream keeps nobody signed in.
 */
export async function viewNow(
  request: Request,
  context: ServerContext,
): Promise<{ day: string; students: string[] } | null> {
  const person = await personOf(context.database, readToken(request, context.secure), { touch: false });
  if (!person || person.missesStep || !may(person, "live.read", { circleRole: null })) return null;
  return withScope(context.database, person, null, async (scope) => ({
    day: scope.today,
    students: (await listCircleRoles(scope, "all"))
      .filter(({ circleRole }) => may(person, "student.read", { circleRole }))
      .map(({ studentId }) => studentId),
  })).catch((error: unknown) => {
    if (error instanceof SessionOver) return null;
    throw error;
  });
}
