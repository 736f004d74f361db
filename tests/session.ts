import { demoPassword, emailOf, people, type PersonKey } from "#demo/school.ts";

/** A person at a browser without a browser: keeps the cookie, sends what our own pages would send. */
export interface Visitor {
  get: (path: string, init?: RequestInit) => Promise<Response>;
  post: (path: string, fields: Record<string, string>, init?: RequestInit) => Promise<Response>;
  cookie: () => string;
  origin: string;
}

export function visitor(baseUrl: string): Visitor {
  let cookie = "";
  async function send(path: string, init: RequestInit): Promise<Response> {
    const answer = await fetch(baseUrl + path, {
      redirect: "manual",
      signal: AbortSignal.timeout(30_000),
      ...init,
      headers: {
        ...(cookie ? { Cookie: cookie } : {}),
        ...(init.headers as Record<string, string> | undefined),
      },
    });
    const set = answer.headers.getSetCookie()[0]?.split(";")[0];
    if (set) cookie = set;
    return answer;
  }
  return {
    get: (path, init = {}) => send(path, init),
    post: (path, fields, init = {}) =>
      send(path, {
        method: "POST",
        body: new URLSearchParams(fields),
        ...init,
        headers: { Origin: new URL(baseUrl).origin, ...(init.headers as Record<string, string> | undefined) },
      }),
    cookie: () => cookie,
    origin: new URL(baseUrl).origin,
  };
}

export async function signedIn(
  baseUrl: string,
  who: PersonKey | { email: string; password: string },
): Promise<Visitor> {
  const { email, password } =
    typeof who === "string" ? { email: emailOf(people[who]), password: demoPassword } : who;
  const person = visitor(baseUrl);
  const answer = await person.post("/sign-in", { email, password });
  if (answer.status !== 302) throw new Error(`signing in answered ${answer.status}`);
  return person;
}
