import { familyCookie, signIn } from "#server/auth/session.ts";
import type { Database } from "#server/db/connection.ts";
import type { AppContext } from "#server/web/context.ts";
import { demoPassword, emailOf, people, type PersonKey } from "#demo/school.ts";

/**
 * A person who calls loaders and actions of routes as the framework would, with a session of their own.
 *
 * @param more of what the web server brings along, where a route needs it
 */
export async function caller(app: Database, who: PersonKey, more: Partial<AppContext> = {}) {
  const done = await signIn(app, {
    email: emailOf(people[who]),
    password: demoPassword,
    address: "test",
    oldToken: null,
  });
  if (!done.ok) throw new Error(`${who} could not sign in`);
  const headers = { Cookie: `gentle-margin=${done.token}` };
  const newContext = () =>
    ({ database: app, secure: false, address: "test", nonce: "", ...more }) as AppContext;
  const args = (params: object, init: RequestInit, search = "", context = newContext()) => ({
    request: new Request(`http://localhost/page${search}`, { ...init, headers }),
    context,
    params,
  });
  return {
    token: done.token,
    load: <Args, T>(loader: (args: Args) => T, params: object = {}, search = "") =>
      loader(args(params, {}, search) as Args),
    /** Calls several loaders as those of one page are called: at once, with one context. */
    loadPage: (loaders: readonly ((args: never) => unknown)[], params: object = {}) => {
      const context = newContext();
      return Promise.all(loaders.map((loader) => loader(args(params, {}, "", context) as never)));
    },
    sendJson: <Args, T>(action: (args: Args) => T, body: object, params: object = {}) =>
      action(args(params, { method: "POST", body: JSON.stringify(body) }) as Args),
    send: <Args, T>(
      action: (args: Args) => T,
      fields: Record<string, string>,
      params: object = {},
      search = "",
    ) => action(args(params, { method: "POST", body: new URLSearchParams(fields) }, search) as Args),
  };
}

/**
 * A guardian at a browser, who calls loaders and actions with the family's cookie.
 *
 * @param token of their session
 */
export function familyCaller(app: Database, token: string) {
  const args = (params: object, init: RequestInit = {}) => ({
    request: new Request("http://localhost/page", {
      ...init,
      headers: { Cookie: familyCookie(token, false).split(";")[0] ?? "" },
    }),
    context: { database: app, secure: false, address: "test", nonce: "" } as AppContext,
    params,
  });
  return {
    load: <Args, T>(loader: (args: Args) => T, params: object = {}) => loader(args(params) as Args),
    send: <Args, T>(action: (args: Args) => T, fields: Record<string, string>, params: object = {}) =>
      action(args(params, { method: "POST", body: new URLSearchParams(fields) }) as Args),
  };
}

/** The fields of a written list, as its form sends them. */
export const typedLines = (prefix: string, lines: readonly string[]): Record<string, string> =>
  Object.fromEntries(lines.map((name, place) => [`${prefix}.${place}.name`, name]));

export type Caller = Awaited<ReturnType<typeof caller>>;

interface Query {
  sql: string;
  __knexTxId?: string;
}

/**
 * The statements that a database is asked for while some work is done, in their order, `BEGIN;` and `COMMIT;` among them.
 *
 * @throws where a transaction is asked for one while it still answers another
 */
export async function statementsOf(app: Database, work: () => unknown): Promise<string[]> {
  const statements: string[] = [];
  const overlaps: string[] = [];
  const running = new Map<string, number>();
  const change = ({ __knexTxId: transaction = "" }: Query, by: 1 | -1) => {
    const now = (running.get(transaction) ?? 0) + by;
    running.set(transaction, now);
    return now;
  };
  const begin = (query: Query) => {
    statements.push(query.sql);
    // Of these no end is told.
    if (/^(BEGIN|COMMIT|ROLLBACK)/.test(query.sql)) return;
    if (change(query, 1) > 1 && query.__knexTxId) overlaps.push(query.sql);
  };
  const end = (_: unknown, query: Query) => change(query, -1);
  app.on("query", begin).on("query-response", end).on("query-error", end);
  try {
    await work();
  } finally {
    app
      .removeListener("query", begin)
      .removeListener("query-response", end)
      .removeListener("query-error", end);
  }
  if (overlaps.length > 0) throw new Error(`asked while another was running: ${overlaps.join("\n")}`);
  return statements;
}

/** What an action said was wrong, field by field, with its status; an error where it saved. */
export async function problemsOf(
  answer: unknown,
): Promise<{ status: number; problems: Record<string, string> }> {
  const said = await answer;
  if (said instanceof Response) throw new Error(`was saved: ${said.headers.get("Location")}`);
  const { data, init } = said as {
    data: { problems: Record<string, string>; typed?: Record<string, string> };
    init: { status: number };
  };
  return { status: init.status, problems: data.problems };
}

/** The status with which a loader or action ends: 200 where it answers, redirects aside. */
export const statusOf = (work: unknown): Promise<number> =>
  Promise.resolve(work).then(
    () => 200,
    (thrown: unknown) => (thrown as { init?: { status?: number } }).init?.status ?? 0,
  );

/** Where an action that saved leads to. */
export async function leadsTo(answer: unknown): Promise<string | null> {
  const said = await answer;
  if (said instanceof Response) return said.headers.get("Location");
  throw new Error(`was not saved: ${JSON.stringify((said as { data?: unknown }).data)}`);
}
