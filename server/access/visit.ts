import { data } from "react-router";
import type { Entered, Person } from "../db/school.ts";
import { may, type Permission } from "./table.ts";

/** A person inside their school, for one transaction, with their part in the circle of the student it is about. */
export interface Visit extends Entered {
  person: Person;
}

const idPattern = /^[0-9a-f]{8}-[0-9a-f]{4}-[1-8][0-9a-f]{3}-[89ab][0-9a-f]{3}-[0-9a-f]{12}$/;

export function isId(text: unknown): text is string {
  return typeof text === "string" && idPattern.test(text);
}

/** "Not found" is also the answer to whoever may not know that something is there. */
export function notFound(): never {
  throw data({ kind: "not-found" }, { status: 404 });
}

/** Ends with 404 for whoever is outside the circle, with 403 for whoever is inside and may only look. */
export function requirePermission(visit: Visit, permission: Permission, authorId?: string): void {
  if (may(visit.person, permission, { part: visit.part, authorId })) return;
  if (visit.part === null) notFound();
  throw data({ kind: "not-allowed" }, { status: 403 });
}
