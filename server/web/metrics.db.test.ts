import { afterAll, beforeAll, expect, it } from "vitest";
import { type OpenDatabase, openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds, inScope } from "#tests/demo-school.ts";
import { keep, recordedItem } from "#tests/recorded.ts";
import { signedIn, type Visitor } from "#tests/session.ts";
import { startWebServer, type WebServer } from "#tests/web-server.ts";
import { loggableError } from "../failure.ts";
import { routeNames } from "./metrics.ts";

let db: OpenDatabase;
let web: WebServer;
let demo: DemoIds;
let noor: Visitor;
beforeAll(async () => {
  db = await openThrowaway("demo");
  demo = await demoIds(db.owner);
  web = await startWebServer(db.appUrl, { METRICS_PORT: "0" });
  noor = await signedIn(web.url, "noor");
});
afterAll(async () => {
  await web.stop();
  await db.close();
});

interface Line {
  msg?: string;
  metrics?: number;
  route?: string;
  status?: string;
  id?: string;
}
const logged = () => web.log.filter((line) => line.startsWith("{")).map((line) => JSON.parse(line) as Line);
async function read(): Promise<{ text: string; type: string }> {
  const port = logged().find(({ msg }) => msg === "metrics listening")?.metrics;
  const answer = await fetch(`http://127.0.0.1:${port}/metrics`);
  return { text: await answer.text(), type: answer.headers.get("Content-Type") ?? "" };
}
/** The value of a line of the exposition: `name{labels} value`. */
const valueOf = (text: string, start: string) => {
  const found = text.split("\n").find((line) => line.startsWith(start));
  return found === undefined ? null : Number(found.slice(found.lastIndexOf(" ") + 1));
};

it("are told in OpenMetrics on a port of their own, without an id of anybody", async () => {
  const path = `/students/${demo.student("Wren")}`;
  expect((await noor.get(path)).status).toBe(200);
  expect((await noor.get("/no/such/page")).status).toBe(404);
  const item = recordedItem(demo);
  await keep(noor, item);
  await keep(noor, item);
  await keep(noor, { ...item, note: "another" });
  await db.owner("backup_runs").insert({ kind: "made" });
  const { text, type } = await read();
  // OpenMetrics 1.0, https://prometheus.io/docs/specs/om/open_metrics_spec/: the type, and the end that says that nothing is missing.
  expect(type).toContain("application/openmetrics-text; version=1.0.0");
  expect(text.endsWith("# EOF\n")).toBe(true);
  const count = (route: string, method: string, status: number) =>
    valueOf(
      text,
      `gentle_margin_request_seconds_count{route="${route}",method="${method}",status="${status}"}`,
    );
  expect(count("/students/:studentId", "GET", 200)).toBe(1);
  expect(count("none", "GET", 404)).toBe(1);
  expect(count("/recording/keep", "POST", 200)).toBe(3);
  const answered = (outcome: string, reason: string) =>
    valueOf(text, `gentle_margin_queue_answers_total{outcome="${outcome}",reason="${reason}"}`);
  expect([answered("saved", ""), answered("already", ""), answered("refused", "content")]).toEqual([1, 1, 1]);
  expect(valueOf(text, 'gentle_margin_saves_total{thing="entry",act="made"}')).toBe(1);
  expect(valueOf(text, "gentle_margin_backup_age_seconds")).toBeLessThan(60);
  expect(valueOf(text, "gentle_margin_disk_free_bytes")).toBeGreaterThan(1000);
  expect(valueOf(text, "gentle_margin_live_viewers")).toBe(0);
  expect(valueOf(text, 'gentle_margin_pool_connections{state="waited for"}')).toBe(0);
  expect(text).not.toMatch(/[0-9a-f]{8}-[0-9a-f]{4}-/);
  // The site itself tells nobody.
  expect((await noor.get("/metrics")).status).toBe(404);
});

it("have a line in the log for each request: its route, status, time and number, and no id of a person", async () => {
  const answer = await noor.get(`/students/${demo.student("Wren")}/report?saved=${demo.schoolId}`);
  const id = answer.headers.get("X-Request-Id");
  await expect
    .poll(() => logged().find((line) => line.id === id))
    .toMatchObject({
      ...{ msg: "request", route: "/students/:studentId/report", method: "GET", status: "200" },
    });
  for (const line of web.log.filter((text) => text.includes('"request"')))
    expect(line).not.toMatch(/[0-9a-f]{8}-[0-9a-f]{4}-/);
});

it("an error of the database names our own place in the log, and the library's only where there is none", async () => {
  const error: unknown = await inScope(db.app, demo.person("noor"), null, ({ trx }) =>
    trx("no_such_table").select(),
  ).catch((caught: unknown) => caught);
  const { at, code } = loggableError(error) as { at: string[]; code: string };
  expect(code).toBe("42P01");
  expect(at[0]).toContain("server/web/metrics.db.test.ts");
  expect(at.join()).not.toMatch(/node_modules|node:/);
  const foreign = Object.assign(new Error("x"), { stack: "Error: x\n    at f (/a/node_modules/b.js:1:1)" });
  expect(loggableError(foreign)).toMatchObject({ at: ["at f (/a/node_modules/b.js:1:1)"] });
});

it("know the route of a path, and no other", () => {
  const names = routeNames({
    root: { id: "root", path: "" },
    frame: { id: "frame", parentId: "root" },
    one: { id: "one", parentId: "frame", path: "students/:studentId" },
    page: { id: "page", parentId: "one", path: "report" },
    first: { id: "first", parentId: "one", index: true },
    rest: { id: "rest", parentId: "root", path: "*" },
  });
  expect(names("/students/1/report?a=b")).toBe("/students/:studentId/report");
  expect(names("/students/1")).toBe("/students/:studentId");
  expect(names("/students/1/report.data")).toBe("/students/:studentId/report");
  expect([names("/else"), names("/%E0%A4%A"), names("/assets/a.js")]).toEqual(["none", "none", "assets"]);
});
