import { gzipSync } from "node:zlib";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { openThrowaway } from "#tests/database.ts";
import { demoIds } from "#tests/demo-school.ts";
import { fillFiveYears, fiveYears } from "#tests/five-years.ts";
import { signedIn } from "#tests/session.ts";
import { startWebServer } from "#tests/web-server.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let web: Awaited<ReturnType<typeof startWebServer>>;
let studentId: string;

beforeAll(async () => {
  db = await openThrowaway("demo");
  const demo = await demoIds(db.owner);
  studentId = demo.student("Wren");
  const { personId } = demo.person("noor");
  await fillFiveYears(db.owner, { studentId, personId, goalId: demo.goal("Wren", "2b") });
  web = await startWebServer(db.appUrl);
}, 60_000);
afterAll(async () => {
  await web.stop();
  await db.close();
});

describe("the report page of a student with five years", () => {
  it("has as much behind it as it says", async () => {
    const { rows } = await db.owner.raw<{ rows: { entries: number; incidents: number }[] }>(
      `select (select count(*)::int from entries where student_id = :studentId and state = 'kept') as entries,
         (select count(*)::int from incidents where student_id = :studentId and state = 'kept') as incidents`,
      { studentId },
    );
    expect(rows[0]?.entries).toBeGreaterThan(0.98 * fiveYears.entries);
    expect(rows[0]?.incidents).toBeGreaterThan(0.98 * fiveYears.incidents);
  });

  it.each(["", "?span=all", "?span=all&by=goal"])(
    "is at most 100 kB of HTML, gzipped, for %j",
    async (span) => {
      const visitor = await signedIn(web.url, "noor");
      const html = await (await visitor.get(`/students/${studentId}/report${span}`)).text();
      expect(html).toContain("At a glance");
      expect(gzipSync(html).length).toBeLessThanOrEqual(100_000);
    },
  );
});
