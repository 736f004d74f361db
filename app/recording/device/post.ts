/** What became of a request: an answer, a session that is over, a refusal by status, or no answer at all. */
export type Posted<T> =
  { kind: "said"; body: T } | { kind: "signed out" } | { kind: "no answer" } | { kind: "not allowed" };

const patience = 20_000;

/** Sends JSON to a path of ours. A redirect is the way to the sign-in page and is not followed. */
export async function post<T>(path: string, body: unknown): Promise<Posted<T>> {
  try {
    const response = await fetch(path, {
      method: "POST",
      headers: { "Content-Type": "application/json" },
      body: JSON.stringify(body),
      redirect: "manual",
      credentials: "same-origin",
      signal: AbortSignal.timeout(patience),
    });
    if (response.type === "opaqueredirect") return { kind: "signed out" };
    if (response.status === 403 || response.status === 404) return { kind: "not allowed" };
    if (!response.ok) return { kind: "no answer" };
    return { kind: "said", body: (await response.json()) as T };
  } catch {
    return { kind: "no answer" };
  }
}
