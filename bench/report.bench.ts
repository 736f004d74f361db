/** The report page of a student with five years, 3,000 entries and 1,500 incidents, against the raw SQL for what it shows. */
import { gzipSync } from "node:zlib";
import pg from "pg";
import { openThrowaway } from "#tests/database.ts";
import { demoIds } from "#tests/demo-school.ts";
import { fillFiveYears } from "#tests/five-years.ts";
import { signedIn } from "#tests/session.ts";
import { startWebServer } from "#tests/web-server.ts";
import { listDue } from "#server/db/due.ts";
import { listGroups } from "#server/db/groups.ts";
import { readLetterKeys } from "#server/db/own-settings.ts";
import { listStudents } from "#server/db/students.ts";
import { readCalendar } from "#server/db/calendar.ts";
import { readReportMaterial } from "#server/db/report-material.ts";
import { reportSpans } from "#core/report/report-spans.ts";
import { perSecond, statementsOf } from "./against-sql.ts";
import { compare } from "./rounds.ts";

const db = await openThrowaway("demo");
const demo = await demoIds(db.owner);
const noor = demo.person("noor");
const studentId = demo.student("Wren");
await fillFiveYears(db.owner, { studentId, personId: noor.personId, goalId: demo.goal("Wren", "2b") });
await db.owner.raw("analyze");
const web = await startWebServer(db.appUrl, { LOG_LEVEL: "info" });
const visitor = await signedIn(web.url, "noor");
const client = new pg.Client({ connectionString: db.appUrl });
await client.connect();

for (const span of ["", "all"]) {
  const path = `/students/${studentId}/report${span ? `?span=${span}` : ""}`;
  const statements = await statementsOf(db, noor, studentId, async (scope) => {
    const calendar = await readCalendar(scope);
    // The strip of students beside every page.
    const students = await listStudents(scope);
    await listDue(scope, calendar, scope.today);
    await listGroups(scope, students);
    await readLetterKeys(scope);
    const { from, to } = reportSpans(calendar, scope.today).find(({ key }) => key === span) ?? {
      ...{ from: null, to: scope.today },
    };
    await readReportMaterial(scope, studentId, {
      ...{ span: { from, to }, order: "time", limit: 120, calendar },
    });
  });
  const html = await (await visitor.get(path)).text();
  console.log(`${span || "this year"}: ${html.length} bytes of HTML, ${gzipSync(html).length} gzipped`);
  await compare(`The report of five years, ${span === "all" ? "everything" : "this school year"}`, [
    {
      name: "the page, rendered, over HTTP",
      run: () => perSecond(5, async () => (await visitor.get(path)).text()),
    },
    {
      name: "its data request, over HTTP",
      run: () => perSecond(5, async () => (await visitor.get(path.replace("report", "report.data"))).text()),
    },
    {
      name: "the raw SQL for what it shows",
      run: () =>
        perSecond(5, async () => {
          for (const { sql, bindings } of statements) await client.query(sql, bindings);
        }),
    },
  ]);
}
await client.end();
await web.stop();
await db.close();
