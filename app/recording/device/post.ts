/** Why a request has no answer of ours that could be read, and what to say of it. */
type Unanswered =
  /** There is no connection. */
  | { kind: "no answer" }
  /** A captive portal or a proxy says something in the server's place, whatever its status. */
  | { kind: "not ours" }
  /** The server is not there behind its proxy, takes too long, or cannot do anything just now. */
  | { kind: "unwell" }
  /** The server failed with this one request. */
  | { kind: "failed" };

/** What became of a request: our server's answer, a session that is over, or neither. */
export type Posted<T> = { kind: "said"; body: T } | { kind: "signed out" } | Unanswered;

const patience = 20_000;

/** Reads the body of an answer; null where it is none of the kind that is expected. */
export type Reads<T> = (body: unknown) => T | null;

/** Takes an answer by one field that our server always gives: for what is shown, not for what an item is deleted by. */
export const withField =
  <T extends object>(...fields: string[]): Reads<T> =>
  (body) =>
    typeof body === "object" && body !== null && fields.some((field) => field in body) ? (body as T) : null;

const isSignedOut = (body: unknown): boolean =>
  typeof body === "object" && body !== null && "kind" in body && body.kind === "signed-out";

/**
 * Sends JSON to a path of ours. A redirect is none of ours and is not followed.
 *
 * @param by the person whose it is: the server takes it under no other's session
 */
export async function post<T>(path: string, body: unknown, reads: Reads<T>, by?: string): Promise<Posted<T>> {
  try {
    const response = await fetch(path, {
      method: "POST",
      headers: { "Content-Type": "application/json", ...(by ? { "Recorded-By": by } : {}) },
      body: JSON.stringify(body),
      redirect: "manual",
      credentials: "same-origin",
      signal: AbortSignal.timeout(patience),
    });
    const { status } = response;
    const answer: unknown = await response.json().catch(() => null);
    if (status === 401 && isSignedOut(answer)) return { kind: "signed out" };
    const read = reads(answer);
    if (read !== null) return { kind: "said", body: read };
    return { kind: status < 500 ? "not ours" : status === 500 ? "failed" : "unwell" };
  } catch (error) {
    const isSlow = error instanceof DOMException && error.name === "TimeoutError";
    return { kind: isSlow ? "unwell" : "no answer" };
  }
}
