import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { v7 as newId } from "uuid";
import { openThrowaway } from "#tests/database.ts";
import { demoIds } from "#tests/demo-school.ts";
import { send } from "#tests/recorded.ts";
import { otherSchool, routeIds } from "#tests/route-ids.ts";
import { routePaths } from "#tests/route-paths.ts";
import { signedIn, visitor, type Visitor } from "#tests/session.ts";
import { startWebServer, type WebServer } from "#tests/web-server.ts";

/**
 * What these do is for people who are not signed in, or tells nothing: `/record` and `/offline` have no loader and nothing personal, and a
 * link opens nothing without its secret.
 */
const open = new Set([
  ...["/", "/sign-in", "/first-run", "/record", "/offline"],
  ...[
    "/sign-in/provider",
    "/sign-in/provider/:schoolId",
    "/forgotten",
    "/reset/:token",
    "/join/:token",
    "/second-step",
    "/passkeys",
    "/recording/hand-in",
  ],
  ...["/family", "/family/open/:token"],
]);
const own = new Set([
  "/caseload",
  "/today",
  "/coverage",
  "/progress-reports",
  "/progress-reports/:from",
  ...["/account/messages", "/dispatch", "/dispatch/new", "/dispatch/:messageId"],
  ...["/dispatch/several/:batchId", "/go/:messageId"],
  "/packets",
  "/packets/:packetId",
  "/packets/:packetId/file",
  "/compare",
  "/figures",
  "/account",
  "/account/second-step",
  "/schools",
  "/district",
  "/devices",
  "/past",
  "/sheets",
  "/find",
  "/guide",
  "/guide/one-page",
  "/own-settings",
  "/names",
  "/recording/keep",
  "/recording/pack",
  "/recording/now",
  "/recording/hand-over",
  "/recording/unlock",
  "/recording/near",
  "/live",
  "/sign-out",
  "/school",
  "/school/calendar",
  "/school/incidents",
  "/school/jots",
  "/school/audiences",
  "/school/ratings",
  "/school/circles",
  "/family/:guardianId",
  "/family/:guardianId/editions/:editionId",
  ...["/family/:guardianId/go/:messageId", "/school/mail", "/school/messages"],
  ...["/family/:guardianId/access", "/school/events"],
  ...["/school/retention", "/school/next-year"],
  "/family/:guardianId/pictures/:pictureId",
  "/school/accounts",
  "/school/accounts/several",
  "/school/accounts/:personId",
  "/school/provider",
  "/school/patterns",
  "/school/patterns.csv",
  "/school/groups",
  "/school/lists",
  "/school/staff",
  "/school/templates",
  "/school/templates/:templateId",
  "/school/week",
  "/students/new",
  "/students/several",
  "/wording",
  "/*",
]);

// A parameter that may be left out is left out: what it names is asked for under the same door.
const all = [...new Set(routePaths.map((path) => path.replace(/\/:\w+\?$/, "")))];
const aboutStudents = all.filter((path) => path.includes(":studentId"));

let db: Awaited<ReturnType<typeof openThrowaway>>;
let web: WebServer;
let fill: (path: string) => string;
let stranger: Visitor;
let outsider: Visitor;
let insider: Visitor;

beforeAll(async () => {
  db = await openThrowaway("demo");
  web = await startWebServer(db.appUrl);
  const demo = await demoIds(db.owner);
  await otherSchool(db);
  insider = await signedIn(web.url, "noor");
  const ids = await routeIds(db, demo, insider);
  fill = (path) =>
    path.replace(/:(\w+)/g, (_, name: string) => ids[name] ?? name).replace("*", "no-such-page");
  outsider = await signedIn(web.url, "gus");
  stranger = await signedIn(web.url, { email: "lead@elsewhere.example", password: "a school elsewhere" });
});
afterAll(async () => {
  await web.stop();
  await db.close();
});

const fields = {
  entryId: newId(),
  marks: "1",
  observedAt: "2026-11-20T10:00",
  intent: "remove",
  revision: "1",
};
/** A page, its data and its action: the three ways to a route. */
const ways: [name: string, ask: (who: Visitor, path: string) => Promise<Response>][] = [
  ["page", (who, path) => who.get(path)],
  ["data", (who, path) => who.get(`${path}.data`)],
  ["action", (who, path) => who.post(path, fields)],
  ["data action", (who, path) => who.post(`${path}.data`, fields)],
];
async function revealed(answer: Response): Promise<boolean> {
  const text = await answer.text();
  return /Wren|Abara|subtraction|place-value mat|hitting or kicking/i.test(text);
}

describe("every route", () => {
  it("is known to this test", () => {
    expect(aboutStudents.length).toBe(48);
    expect(all.filter((path) => !open.has(path) && !own.has(path) && !aboutStudents.includes(path))).toEqual(
      [],
    );
  });

  describe.each(ways)("as %s", (name, ask) => {
    it.each(all.filter((path) => !open.has(path)))(
      "%s sends a signed-out person to the sign-in",
      async (path) => {
        const answer = await ask(visitor(web.url), fill(path));
        // 415: what devices send is no form.
        const refused = name.includes("data")
          ? [202, 404, 405, 415].includes(answer.status)
          : [302, 404, 405, 415].includes(answer.status);
        expect({ path, status: answer.status, refused, revealed: await revealed(answer) }).toMatchObject({
          refused: true,
          revealed: false,
        });
      },
    );

    it.each(aboutStudents)(
      "%s is not found for another school's person and for a person outside the circle",
      async (path) => {
        for (const who of [stranger, outsider]) {
          const answer = await ask(who, fill(path));
          expect({ path, status: answer.status, revealed: await revealed(answer) }).toMatchObject({
            status: name.includes("action")
              ? (expect.toSatisfy((status) => status === 404 || status === 405) as number)
              : 404,
            revealed: false,
          });
        }
      },
    );
  });

  it.each(aboutStudents)(
    "%s is there for the case manager, so that a refusal means something",
    async (path) => {
      const answer = await insider.get(fill(path), { redirect: "follow" });
      expect(answer.status).toBe(200);
      // A picture holds no text.
      const isPicture = answer.headers.get("Content-Type") === "image/jpeg";
      expect(isPicture || (await revealed(answer))).toBe(true);
    },
  );

  it("answers an id that is none with not found", async () => {
    for (const path of [
      "/students/1",
      "/students/%27/report",
      `/students/${newId()}`,
      fill("/students/:studentId/goals/x"),
      fill("/students/:studentId/entries/x"),
      "/no-such-page",
    ]) {
      expect((await insider.get(path)).status).toBe(404);
    }
  });
});

describe("what a device sends", () => {
  // What is handed in without a session is shown by the key that sealed it.
  it.each(all.filter((path) => path.startsWith("/recording/") && path !== "/recording/hand-in"))(
    "to %s is told that nobody is signed in, in words of ours and not by a redirect",
    async (path) => {
      const answer = await send(visitor(web.url), path, {});
      expect([answer.status, await answer.json()]).toEqual([401, { kind: "signed-out" }]);
    },
  );
});

describe("the live stream", () => {
  const path = () => `/live?student=${fill(":studentId")}`;
  it("of a student is not found outside the circle, and asks for a sign-in first", async () => {
    expect((await outsider.get(path())).status).toBe(404);
    expect((await stranger.get(path())).status).toBe(404);
    expect((await visitor(web.url).get(path())).headers.get("Location")).toMatch(/^\/sign-in/);
    const stop = new AbortController();
    const answer = await insider.get(path(), { signal: stop.signal });
    expect([answer.status, answer.headers.get("Content-Type")]).toEqual([200, "text/event-stream"]);
    stop.abort();
  });
});

describe("mutations", () => {
  const record = () => fill("/students/:studentId/goals/:goalId/record");
  it("come from our own pages or not at all", async () => {
    const body = new URLSearchParams(fields);
    const sendForm = (headers: Record<string, string>, path = record()) =>
      insider.get(path, { method: "POST", body, headers });
    expect((await sendForm({})).status).toBe(403);
    expect((await sendForm({ Origin: "https://elsewhere.example" })).status).toBe(403);
    expect((await sendForm({ Origin: web.url, "Sec-Fetch-Site": "cross-site" })).status).toBe(403);
    expect((await sendForm({ Origin: "null" })).status).toBe(403);
    expect((await sendForm({}, "/sign-out")).status).toBe(403);
    expect((await sendForm({}, "/live")).status).toBe(403);
    expect((await sendForm({ "Sec-Fetch-Site": "same-origin" })).status).toBe(302);
  });

  it("are refused before they are read when they are too large", async () => {
    const answer = await insider
      .post(record(), { ...fields, note: "x".repeat(300_000) })
      .catch((error: unknown) => error);
    expect(answer).toSatisfy(
      (got: unknown) => got instanceof Error || (got instanceof Response && got.status === 413),
    );
  });
});

describe("answers", () => {
  it("carry the security headers, with a nonce of their own and no inline style or handler", async () => {
    const nonces = new Set<string>();
    for (let count = 0; count < 2; count += 1) {
      const answer = await insider.get("/caseload");
      const policy = answer.headers.get("Content-Security-Policy") ?? "";
      expect(policy).toMatch(/default-src 'none'/);
      expect(policy).not.toMatch(/unsafe/);
      expect(answer.headers.get("X-Content-Type-Options")).toBe("nosniff");
      expect(answer.headers.get("Permissions-Policy")).toMatch(/camera=\(\).*microphone=\(\)/);
      expect(answer.headers.get("Cache-Control")).toBe("no-store");
      const html = await answer.text();
      expect(html).not.toMatch(/<[^>]+\s(style|on[a-z]+)=/);
      const nonce = /'nonce-([^']+)'/.exec(policy)?.[1] ?? "";
      for (const [script] of html.matchAll(/<script[^>]*>/g)) expect(script).toContain(`nonce="${nonce}"`);
      nonces.add(nonce);
    }
    expect(nonces.size).toBe(2);
  });

  it("of what somebody should see stand in the log, and say nothing of anybody", async () => {
    const nobody = visitor(web.url);
    await nobody.post("/sign-in", { email: "someone@larkspurbay.example", password: "a guess" });
    await nobody.get("/caseload", { method: "POST", body: new URLSearchParams(), headers: {} });
    await outsider.get(fill("/students/:studentId"));
    const noted = web.log.filter((line) => line.includes('"security"'));
    for (const event of ["sign-in failed", "foreign origin", "not permitted"])
      expect(noted.some((line) => line.includes(`"security":"${event}"`))).toBe(true);
    expect(noted.filter((line) => /[0-9a-f]{8}-[0-9a-f]{4}|@|guess|Wren|127\.0/.test(line))).toEqual([]);
  });

  it("log neither ids nor names nor what was asked", () => {
    const lines = web.log.filter((line) => line.includes('"msg":"request"'));
    expect(lines.length).toBeGreaterThan(50);
    expect(lines.filter((line) => /[0-9a-f]{8}-[0-9a-f]{4}|student=|Wren|@/.test(line))).toEqual([]);
  });

  it("send assets that never change compressed and for good", async () => {
    const html = await (await insider.get("/caseload")).text();
    const asset = /\/assets\/[\w.-]+\.js/.exec(html)?.[0] ?? "";
    const answer = await insider.get(asset, { headers: { "Accept-Encoding": "br" } });
    expect([answer.headers.get("Content-Encoding"), answer.headers.get("Cache-Control")]).toEqual([
      "br",
      "public, max-age=31536000, immutable",
    ]);
    expect((await fetch(`${web.url}/health`)).status).toBe(200);
    expect((await fetch(`${web.url}/ready`)).status).toBe(200);
  });
});
