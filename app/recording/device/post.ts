/**
 * What became of a request: our server's answer, a session that is over, or no answer of our server. What a captive portal or a proxy says
 * in its place, whatever its status, is no answer of ours.
 */
export type Posted<T> = { kind: "said"; body: T } | { kind: "signed out" } | { kind: "no answer" };

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

/** Sends JSON to a path of ours. A redirect is none of ours and is not followed. */
export async function post<T>(path: string, body: unknown, reads: Reads<T>): Promise<Posted<T>> {
  try {
    const response = await fetch(path, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify(body),
      redirect: "manual",
      credentials: "same-origin",
      signal: AbortSignal.timeout(patience),
    });
    const answer = (await response.json()) as unknown;
    if (response.status === 401 && isSignedOut(answer)) return { kind: "signed out" };
    const read = reads(answer);
    return read === null ? { kind: "no answer" } : { kind: "said", body: read };
  } catch {
    return { kind: "no answer" };
  }
}
