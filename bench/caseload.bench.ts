/** The caseload page of 14 students, rendered and sent, against the raw SQL for its rows on one connection. */
import pg from "pg";
import { openThrowaway } from "#tests/database.ts";
import { demoIds, visiting } from "#tests/demo-school.ts";
import { signedIn } from "#tests/session.ts";
import { startWebServer } from "#tests/web-server.ts";
import { listCaseloadGoals, listStudents } from "#server/db/students.ts";
import { compare } from "./rounds.ts";

const times = 100;
const db = await openThrowaway("demo");
const noor = (await demoIds(db.owner)).person("noor");
const web = await startWebServer(db.appUrl, { LOG_LEVEL: "info" });
const visitor = await signedIn(web.url, "noor");

const statements: { sql: string; bindings: unknown[] }[] = [];
const note = ({ sql, bindings }: { sql: string; bindings?: unknown[] }) =>
  statements.push({ sql, bindings: bindings ?? [] });
db.app.on("query", note);
await visiting(db.app, noor, null, async (visit) => [
  await listStudents(visit),
  await listCaseloadGoals(visit),
]);
db.app.removeListener("query", note);
const client = new pg.Client({ connectionString: db.appUrl });
await client.connect();

async function perSecond(work: () => Promise<unknown>): Promise<number> {
  const started = performance.now();
  for (let count = 0; count < times; count += 1) await work();
  return times / ((performance.now() - started) / 1000);
}

await compare("The caseload page, one after the other", [
  {
    name: "the page, rendered, over HTTP",
    run: () => perSecond(async () => (await visitor.get("/caseload")).text()),
  },
  {
    name: "its data request, over HTTP",
    run: () => perSecond(async () => (await visitor.get("/caseload.data")).text()),
  },
  {
    name: "the raw SQL for the same rows",
    run: () =>
      perSecond(async () => {
        for (const { sql, bindings } of statements) await client.query(sql, bindings);
      }),
  },
]);
await client.end();
await web.stop();
await db.close();
