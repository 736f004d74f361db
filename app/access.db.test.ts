import { readFileSync, writeFileSync } from "node:fs";
import { fileURLToPath } from "node:url";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { newToken, hashToken, familyCookie } from "#server/auth/session.ts";
import { makeSchool } from "#server/db/accounts.ts";
import type { AsksFor } from "#app/kit/define-action.server.ts";
import { type Permission, permissions } from "#server/access/table.ts";
import {
  accessClasses,
  type AccessClass,
  actionsByHand,
  classOf,
  relations,
  type Relation,
} from "#tests/access-table.ts";
import { openThrowaway } from "#tests/database.ts";
import { demoIds } from "#tests/demo-school.ts";
import { otherSchool, routeIds } from "#tests/route-ids.ts";
import { routePaths, routesWithFiles } from "#tests/route-paths.ts";
import { signedIn, visitor, type Visitor } from "#tests/session.ts";
import { startWebServer, type WebServer } from "#tests/web-server.ts";

let db: Awaited<ReturnType<typeof openThrowaway>>;
let web: WebServer;
let ids: Record<string, string>;
let who: Record<Relation, Visitor>;

/** What a person is to Wren, by their part in the circle or by what they are in the school. */
async function relate() {
  const demo = await demoIds(db.owner);
  const wren = demo.student("Wren");
  const part = (person: "hana" | "paloma" | "teo" | "mirela" | "gus") => ({
    school_id: demo.schoolId,
    student_id: wren,
    person_id: demo.person(person).personId,
  });
  const day = (shift: number) =>
    db.owner.raw("(clock_now() at time zone 'America/Los_Angeles')::date + ?::int", [shift]);
  const lead = await signedIn(web.url, "noor");
  ids = await routeIds(db, demo, lead);
  await db.owner("circle").insert({ ...part("hana"), part: "read", from_on: day(-9) });
  await db
    .owner("circle")
    .where(part("mirela"))
    .update({ to_on: day(0) });
  await db
    .owner("circle")
    .where(part("paloma"))
    .update({ to_on: day(-1) });
  await db.owner("circle").insert({ ...part("gus"), part: "lead", from_on: day(1) });
  await db
    .owner("circle")
    .where({ ...part("teo") })
    .update({ part: "record" });
  const ines = { school_id: demo.schoolId, student_id: wren, person_id: demo.person("ines").personId };
  await db.owner("circle").where(ines).delete();
  await otherSchool(db);
  /** A guardian's browser, in by a link that is open or was ended. */
  const guardian = async (ended: boolean): Promise<Visitor> => {
    const [token, link_id] = [newToken(), crypto.randomUUID()];
    await db.owner("gate.family_links").insert({
      ...{ link_id, token_hash: hashToken(newToken()), school_id: demo.schoolId },
      ...{ guardian_id: ids["guardianId"], expires_at: new Date(Date.now() + 3_600_000) },
      ...(ended ? { revoked_at: new Date() } : {}),
    });
    await db.owner("gate.family_sessions").insert({ token_hash: hashToken(token), link_id });
    const cookie = familyCookie(token, false).split(";")[0] ?? "";
    const plain = visitor(web.url);
    return {
      ...plain,
      get: (path, init = {}) => plain.get(path, { ...init, headers: { Cookie: cookie } }),
      post: (path, fields, init = {}) => plain.post(path, fields, { ...init, headers: { Cookie: cookie } }),
    };
  };
  // Whoever has left: signed in, and then the last day was yesterday.
  const left = await makeSchool(db.owner, {
    ...{ name: "Closed", timeZone: "UTC", locale: "en-US", givenName: "Liv", familyName: "Left" },
    email: "liv@closed.example",
  });
  const gone = visitor(web.url);
  await gone.post(`/join/${left}`, { intent: "make an account", password: "seven quiet herons" });
  await db.owner("people").where({ email: "liv@closed.example" }).update({ left_on: "2026-01-01" });
  who = {
    "signed out": visitor(web.url),
    leads: lead,
    records: await signedIn(web.url, "teo"),
    reads: await signedIn(web.url, "hana"),
    "ends today": await signedIn(web.url, "mirela"),
    "ended yesterday": await signedIn(web.url, "paloma"),
    "begins tomorrow": await signedIn(web.url, "gus"),
    "not in the circle": await signedIn(web.url, "ines"),
    administrator: await signedIn(web.url, "desmond"),
    "other school": await signedIn(web.url, {
      email: "lead@elsewhere.example",
      password: "a school elsewhere",
    }),
    "left the school": gone,
    guardian: await guardian(false),
    "guardian, link ended": await guardian(true),
  };
}

beforeAll(async () => {
  db = await openThrowaway("demo");
  web = await startWebServer(db.appUrl);
  await relate();
});
afterAll(async () => {
  await web.stop();
  await db.close();
});

const fill = (path: string) =>
  path
    .replace(/\/:\w+\?(?=\/|$)/g, "")
    .replace(/:(\w+)/g, (_, name: string) => ids[name] ?? name)
    .replace("*", "no-such-page");

/** What a page answers, in the words of the table. */
async function answerTo(visitorOf: Visitor, path: string): Promise<string> {
  const stop = new AbortController();
  const answer = await visitorOf.get(fill(path), { signal: stop.signal });
  const to = answer.headers.get("Location") ?? "";
  // A stream has no end.
  if (answer.headers.get("Content-Type")?.startsWith("text/event-stream")) stop.abort();
  else await answer.arrayBuffer();
  if (answer.status === 302) return /^\/(sign-in|family$)/.test(to) ? "sign-in" : "yes";
  return answer.status === 200 ? "yes" : String(answer.status);
}

const paths = [...new Set(routePaths.map((path) => path.replace(/\/:\w+\?$/, "")))].sort();

describe("who may open what", () => {
  it("is in the table for every address", () => {
    expect(paths.filter((path) => classOf(path) === null)).toEqual([]);
    const listed = Object.values(accessClasses).flatMap(({ paths: of }) => of);
    expect(listed.filter((path) => !paths.includes(path))).toEqual([]);
    expect(new Set(listed).size).toBe(listed.length);
  });

  it.each(paths)("%s answers each person as the table says", async (path) => {
    const expected = accessClasses[classOf(path) as AccessClass].answers;
    const answers: Partial<Record<Relation, string>> = {};
    for (const relation of relations) answers[relation] = await answerTo(who[relation], path);
    expect(answers).toEqual(Object.fromEntries(relations.map((relation, at) => [relation, expected[at]])));
  });

  it("is written down in docs/access.md as it is in the table and in the code", () => {
    const file = fileURLToPath(new URL("../docs/access.md", import.meta.url));
    if (process.env["GENTLE_MARGIN_WRITE_ACCESS"]) writeFileSync(file, pageOf());
    expect(readFileSync(file, "utf8")).toBe(pageOf());
  });
});

interface RouteModule {
  action?: unknown;
}
const appFolder = fileURLToPath(new URL(".", import.meta.url));
const hasAction = (file: string) =>
  /export (const|async function|function) action\b|\baction,? .*from/.test(
    readFileSync(`${appFolder}${file}`, "utf8"),
  );

/** Every action of the site: its address and what it asks for, by intent; null where it is written by hand. */
const actions = (
  await Promise.all(
    routesWithFiles
      .filter(({ file }) => hasAction(file))
      .map(async ({ path, file, isIndex }) => {
        const { action } = (await import(`./${file}`)) as RouteModule;
        if (typeof action !== "function") return [];
        return [
          {
            path: isIndex ? `${path}?index` : path,
            asksFor: "asksFor" in action ? (action.asksFor as AsksFor) : null,
          },
        ];
      }),
  )
)
  .flat()
  .sort((one, other) => (one.path < other.path ? -1 : 1));

/** Who a permission is for, where it is not about an author. */
const mayBy = (permission: Permission, relation: Relation): boolean => {
  const allowed: readonly string[] = permissions[permission];
  const roles: Partial<Record<Relation, string[]>> = {
    leads: ["lead", "case manager", "member"],
    records: ["record", "author", "member"],
    "ends today": ["record", "author", "member"],
    reads: ["read", "member"],
    administrator: ["administrator", "member"],
  };
  return (roles[relation] ?? ["member"]).some((role) => allowed.includes(role));
};

describe("who may do what", () => {
  it("asks somebody in every action: by the route kit, or as the table of actions by hand says", () => {
    expect(actions.length).toBeGreaterThan(50);
    const byHand = actions.flatMap(({ path, asksFor }) => (asksFor === null ? path : []));
    expect([...new Set(byHand)].sort()).toEqual(Object.keys(actionsByHand).sort());
  });

  const acts = actions.flatMap(({ path, asksFor }) =>
    Object.entries(asksFor ?? {}).map(([intent, permission]) => ({ path, intent, permission })),
  );
  it.each(acts)("$path refuses “$intent” to everyone it is not for", async ({ path, intent, permission }) => {
    const send = async (relation: Relation) => {
      const answer = await who[relation].post(fill(path), { intent, ...ids });
      await answer.arrayBuffer();
      return answer.status === 302 ? (answer.headers.get("Location") ?? "") : String(answer.status);
    };
    const signedOut = ["signed out", "left the school", "guardian", "guardian, link ended"] as const;
    for (const relation of signedOut)
      expect([relation, await send(relation)]).toEqual([relation, expect.stringMatching(/^\/sign-in/)]);
    const isAboutStudent = path.includes(":studentId");
    const outsiders = ["ended yesterday", "begins tomorrow", "not in the circle", "other school"] as const;
    if (isAboutStudent)
      for (const relation of outsiders) expect([relation, await send(relation)]).toEqual([relation, "404"]);
    if (permission === null) return;
    for (const relation of ["records", "reads", "administrator", "not in the circle"] as const) {
      if (mayBy(permission, relation)) continue;
      const refused =
        isAboutStudent && ["administrator", "not in the circle"].includes(relation) ? "404" : "403";
      expect([relation, await send(relation)]).toEqual([relation, refused]);
    }
  });
});

const cell = (text: string) => text.replaceAll("|", "/");

function pageOf(): string {
  const header = (cells: readonly string[]) => `| ${cells.join(" | ")} |\n|${" --- |".repeat(cells.length)}`;
  const row = (cells: readonly string[]) => `| ${cells.map(cell).join(" | ")} |`;
  const classes = Object.entries(accessClasses).map(([name, { answers, paths: of }]) =>
    [
      `### ${name[0]?.toUpperCase() ?? ""}${name.slice(1)}`,
      "",
      header(relations),
      row(answers),
      "",
      of.map((path) => `\`${path}\``).join(", "),
    ].join("\n"),
  );
  const whose = (permission: Permission | null) =>
    permission === null ? "depends on what is sent" : `${permission}: ${permissions[permission].join(", ")}`;
  const acts = actions.flatMap(({ path, asksFor }) =>
    asksFor === null
      ? [row([`\`${path}\``, "", actionsByHand[path] ?? ""])]
      : Object.entries(asksFor).map(([intent, permission]) =>
          row([`\`${path}\``, intent, whose(permission)]),
        ),
  );
  return `# Who may open and do what

Written by the test \`app/access.db.test.ts\`, which asks every address and sends every action as each of these people, through the real
server and database. \`GENTLE_MARGIN_WRITE_ACCESS=1 npm test -- --only db access.db\` writes it anew. The table of addresses is
\`tests/access-table.ts\`; the table of permissions is \`server/access/table.ts\`.

\`yes\`; \`403\`: of the circle or the school, and may not; \`404\`: for them there is no such thing; \`sign-in\`: led to the sign-in or the
family's entrance. In the test the lead is a case manager, the one who records, and the one whose part ends today, are no authors of what is
changed, and the person of the other school is its administrator.

## Addresses

${classes.join("\n\n")}

## Actions

${header(["Address", "Intent", "Permission: for whom"])}
${[...new Set(acts)].join("\n")}
`;
}
