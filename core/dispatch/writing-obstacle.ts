/** What is known of somebody who is to be written to. */
export interface Addressee {
  email: string | null;
  /** May they read about the student at all, or are they still at the school? */
  mayRead: boolean;
  hasAgreed: boolean;
  /** The answer of a mail server that refused the address. */
  refusedWith: string | null;
  isConfirmed: boolean;
}

/** Why somebody is not written to. The first two end a message; the others hold it until somebody has done something. */
export type WritingObstacle = "no access" | "no consent" | "no address" | "wrong address" | "not confirmed";

/** What stands in the way of writing to somebody, the most lasting first; null where nothing does. */
export function writingObstacle({
  email,
  mayRead,
  hasAgreed,
  refusedWith,
  isConfirmed,
}: Addressee): WritingObstacle | null {
  if (!mayRead) return "no access";
  if (email === null) return "no address";
  if (!hasAgreed) return "no consent";
  if (refusedWith !== null) return "wrong address";
  return isConfirmed ? null : "not confirmed";
}
