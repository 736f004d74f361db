import type { PersonScope } from "#server/access/scope.ts";
import type { openThrowaway } from "#tests/database.ts";
import { inScope } from "#tests/demo-school.ts";
import type { DemoIds } from "#tests/demo-school.ts";

export interface Statement {
  sql: string;
  bindings: unknown[];
}

/** What a scope asks of the database. */
export async function statementsOf(
  db: Awaited<ReturnType<typeof openThrowaway>>,
  person: ReturnType<DemoIds["person"]>,
  studentId: string | null,
  work: (scope: PersonScope) => Promise<unknown>,
): Promise<Statement[]> {
  const statements: Statement[] = [];
  const note = ({ sql, bindings }: { sql: string; bindings?: unknown[] }) =>
    statements.push({ sql, bindings: bindings ?? [] });
  db.app.on("query", note);
  await inScope(db.app, person, studentId, work);
  db.app.removeListener("query", note);
  return statements;
}

/** How often a second something is done, one after the other. */
export async function perSecond(times: number, work: () => Promise<unknown>): Promise<number> {
  const started = performance.now();
  for (let count = 0; count < times; count += 1) await work();
  return times / ((performance.now() - started) / 1000);
}
