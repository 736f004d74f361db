import type { Transaction } from "../db/connection.ts";
import { noteSecurity } from "../failure.ts";
import { NotFound, Refused } from "../errors.ts";
import type { Actor, CircleRole, PersonActor } from "./actor.ts";
import { may, type Permission, type Tie } from "./table.ts";

/**
 * One actor inside one school, for one transaction. Everything in `server/db` takes one: the school comes from it and never from a
 * request, and so does the time.
 */
export interface Scope<A extends Actor = Actor> {
  actor: A;
  schoolId: string;
  timeZone: string;
  /** The student it is about, if it is about one. */
  studentId: string | null;
  /** The actor's role in the student's circle; null outside it, and where no student is concerned. */
  circleRole: CircleRole | null;
  trx: Transaction;
  /** The moment the transaction began, by the database's clock: the only "now" of the application. */
  now: Date;
  /** The same in the school's own date and time, `YYYY-MM-DDTHH:MM`. */
  localNow: string;
  /** The school's own date, `YYYY-MM-DD`. */
  today: string;
}

/** A scope whose actor is a signed-in person: for everything that has an author. */
export type PersonScope = Scope<PersonActor>;

const idPattern = /^[0-9a-f]{8}-[0-9a-f]{4}-[1-8][0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/;

/** Is this an id of ours, a UUID? */
export function isId(text: unknown): text is string {
  return typeof text === "string" && idPattern.test(text);
}

/** Throws `NotFound` for an actor outside the circle, `Refused` for one inside who may only read. */
export function requirePermission(scope: Scope, permission: Permission, authorId?: Tie["authorId"]): void {
  const { circleRole, studentId } = scope;
  if (may(scope.actor, permission, { circleRole, authorId, studentId })) return;
  noteSecurity("not permitted", { permission, actor: scope.actor.kind });
  // Outside a circle nobody learns that there is such a student. The school itself is no secret to its people.
  throw studentId !== null && circleRole === null ? new NotFound() : new Refused([], studentId === null);
}
