/**
 * What can stand in the way of a request without anything being broken. `server/access/answer.ts` turns each into its answer to the
 * browser; nothing else of `server/` knows of HTTP. Thrown inside a scope, each takes the transaction back.
 */

/** Nothing is there, or the one who asks may not know that it is. */
export class NotFound extends Error {
  override readonly name = "NotFound";
}

/** It is there, and the one who asks may not do this with it. */
export class Refused extends Error {
  override readonly name = "Refused";
  /** Whom one can ask: those who may, by name. */
  readonly ask: readonly string[];
  /** Is it about the school, and not about a student? */
  readonly ofSchool: boolean;
  constructor(ask: readonly string[] = [], ofSchool = false) {
    super();
    this.ask = ask;
    this.ofSchool = ofSchool;
  }
}

/** Their session is over, or they are nobody here any more: they are led to the sign-in. */
export class SessionOver extends Error {
  override readonly name = "SessionOver";
}

/** It has been changed meanwhile: what was asked is not done. */
export class Conflict extends Error {
  override readonly name = "Conflict";
}

/** What was entered cannot be saved as it is: one message for each field. It goes back to the form. */
export class Invalid extends Error {
  override readonly name = "Invalid";
  constructor(readonly problems: Record<string, string>) {
    super("the input has problems");
  }
}

/** Throws `NotFound`: for what is not there, and for what this actor may not know of. */
export function notFound(): never {
  throw new NotFound();
}
