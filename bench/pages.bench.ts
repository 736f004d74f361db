/** Pages rendered and sent, each against the raw SQL for its rows on one connection: the caseload of 14 students, a student with 503 goals. */
import pg from "pg";
import { openThrowaway } from "#tests/database.ts";
import { copiesOfGoal, demoIds } from "#tests/demo-school.ts";
import { signedIn } from "#tests/session.ts";
import { startWebServer } from "#tests/web-server.ts";
import { listCaseloadGoals, listGoals, listStudents } from "#server/db/students.ts";
import { perSecond, type Statement, statementsOf } from "./against-sql.ts";
import { compare } from "./rounds.ts";

const db = await openThrowaway("demo");
const demo = await demoIds(db.owner);
const noor = demo.person("noor");
const web = await startWebServer(db.appUrl, { LOG_LEVEL: "info" });
const visitor = await signedIn(web.url, "noor");
const client = new pg.Client({ connectionString: db.appUrl });
await client.connect();

async function page(
  title: string,
  path: string,
  times: number,
  statements: readonly Statement[],
): Promise<void> {
  const text = (from: string) => async () => (await visitor.get(from)).text();
  await compare(title, [
    { name: "the page, rendered, over HTTP", run: () => perSecond(times, text(path)) },
    { name: "its data request, over HTTP", run: () => perSecond(times, text(`${path}.data`)) },
    {
      name: "the raw SQL for the same rows",
      run: () =>
        perSecond(times, async () => {
          for (const { sql, bindings } of statements) await client.query(sql, bindings);
        }),
    },
  ]);
}

await page(
  "The caseload page, one after the other",
  "/caseload",
  100,
  await statementsOf(db, noor, null, async (scope) => [
    await listStudents(scope),
    await listCaseloadGoals(scope),
  ]),
);
const wren = demo.student("Wren");
await copiesOfGoal(db.owner, demo.goal("Wren", "2b"), 500);
await page(
  "The page of a student with 503 goals, one after the other",
  `/students/${wren}`,
  10,
  await statementsOf(db, noor, wren, (scope) => listGoals(scope, wren)),
);
await client.end();
await web.stop();
await db.close();
