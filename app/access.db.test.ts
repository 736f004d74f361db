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
  jobs,
  liveEvents,
  sentByDevices,
  classOf,
  relations,
  type Relation,
} from "#tests/access-table.ts";
import { queuedSchema } from "#core/sync/queued.ts";
import { queues } from "#server/jobs/enqueue.ts";
import { incidentItem, keep, recordedItem, send } from "#tests/recorded.ts";
import { openThrowaway } from "#tests/database.ts";
import { type DemoIds, demoIds } from "#tests/demo-school.ts";
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
  /** A guardian's browser, in by a link of theirs, or by their account. */
  const guardian = async (by: { guardianId?: string; link?: object; account?: string }): Promise<Visitor> => {
    const [token, link_id] = [newToken(), crypto.randomUUID()];
    if (by.account === undefined)
      await db.owner("gate.family_links").insert({
        ...{ link_id, token_hash: hashToken(newToken()), school_id: demo.schoolId },
        ...{ guardian_id: by.guardianId ?? ids["guardianId"], expires_at: new Date(Date.now() + 3_600_000) },
        ...by.link,
      });
    const opened = by.account === undefined ? { link_id } : { account_id: by.account };
    await db.owner("gate.family_sessions").insert({ token_hash: hashToken(token), ...opened });
    const cookie = familyCookie(token, false).split(";")[0] ?? "";
    const plain = visitor(web.url);
    return {
      ...plain,
      get: (path, init = {}) =>
        plain.get(path, { ...init, headers: { ...(init.headers as object), Cookie: cookie } }),
      post: (path, fields, init = {}) => plain.post(path, fields, { ...init, headers: { Cookie: cookie } }),
    };
  };
  const guardianNamed = async (name: string): Promise<string> => {
    const found: { guardian_id: string } | undefined = await db
      .owner("guardians")
      .where({ name })
      .first("guardian_id");
    return found?.guardian_id ?? "";
  };
  const account: { account_id: string } | undefined = await db
    .owner("gate.family_accounts")
    .where({ guardian_id: ids["guardianId"] })
    .first("account_id");
  const refused = { school_id: demo.schoolId, student_id: wren, guardian_id: crypto.randomUUID() };
  const lena = await db.owner("guardians").where({ guardian_id: ids["guardianId"] }).first();
  await db.owner("guardians").insert({
    ...{ ...lena, ...refused, name: "Refused Abara", email: "refused@home.example" },
    no_access_reason: "a court order",
  });
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
    "guardian by link": await guardian({}),
    "guardian by account": await guardian({ account: account?.account_id ?? "" }),
    "link expired": await guardian({ link: { expires_at: new Date(Date.now() - 1000) } }),
    "link revoked": await guardian({ link: { revoked_at: new Date() } }),
    "guardian without access": ofOwnPage(
      await guardian({ guardianId: refused.guardian_id }),
      refused.guardian_id,
    ),
    "guardian of another": await guardian({ guardianId: await guardianNamed("Marisol Reyes") }),
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

/** Asks for their own page where another would ask for Lena Abara's. */
const ofOwnPage = (one: Visitor, guardianId: string): Visitor => ({
  ...one,
  get: (path, init = {}) => one.get(path.replace(ids["guardianId"] ?? "", guardianId), init),
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

/** Who is signed in to no school. */
const outsideTheSchool = relations.filter((relation) => /^(signed out|left|guardian|link)/.test(relation));

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
    for (const relation of outsideTheSchool)
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

describe("what a device sends", () => {
  /** One of everything about Wren, made by a device now. */
  const items = (demo: DemoIds, incidents: string[], entryId: string) => {
    const entry = recordedItem(demo);
    const incident = incidentItem(demo);
    const [{ id, ...of }, made] = [entry, { goalId: entry.goalId, sittingId: entry.sittingId }];
    const about = {
      ...{ format: 1, studentId: of.studentId, observedAt: of.observedAt, clockAhead: 0 },
    };
    const [began, note] = [{ as: "moment" }, null];
    return {
      entry: of,
      second: { ...of, kind: "second", withSittingId: null },
      "not measured": {
        ...about,
        ...made,
        startedAt: of.startedAt,
        note,
        kind: "not measured",
        reason: "refused",
      },
      absent: { ...about, ...made, startedAt: of.startedAt, note, kind: "absent" },
      "tally open": { ...about, goalId: of.goalId, kind: "tally open" },
      "tally press": { ...about, goalId: of.goalId, kind: "tally press" },
      "tally back": { ...about, goalId: of.goalId, kind: "tally back", pressId: id },
      "tally close": {
        ...{
          ...about,
          goalId: of.goalId,
          kind: "tally close",
          on: of.observedAt.slice(0, 10),
          note,
          setting: null,
        },
        ...{ seenFrom: `${of.observedAt.slice(0, 10)}T07:00`, seenTo: `${of.observedAt.slice(0, 10)}T07:01` },
      },
      incident,
      "same incident": {
        ...about,
        kind: "same incident",
        incidentId: incidents[0],
        otherId: incidents[1],
        same: false,
      },
      watched: { ...about, kind: "watched", on: of.observedAt.slice(0, 10), period: "", state: "none" },
      jot: {
        ...about,
        kind: "jot",
        began,
        note: "kind to E.",
        categoryId: null,
        details: { levelId: null, link: null, pictures: [] },
        own: false,
        teamOnly: false,
      },
      picture: { ...about, kind: "picture", jotId: ids["jotId"], data: "AAAA" },
      "take back": { ...about, kind: "take back", of: "entry", thingId: entryId },
    };
  };
  it.each(Object.entries(sentByDevices))("%s is taken from whom the table says", async (kind, expected) => {
    const demo = await demoIds(db.owner);
    // Of the lead: another's part in it is no authorship.
    const ofLead = { student_id: ids["studentId"], author_id: demo.person("noor").personId };
    const incidents = await db.owner("incidents").where(ofLead).limit(2).pluck("incident_id");
    const [entryId] = await db.owner("entries").where(ofLead).limit(1).pluck("entry_id");
    expect([incidents.length, typeof entryId]).toEqual([2, "string"]);
    const item = items(demo, incidents, entryId ?? "")[kind as keyof ReturnType<typeof items>];
    const held = async () => Number((await db.owner("held_items").count())[0]?.["count"]);
    const answers = new Map<Relation, string>();
    // The lead last: what is taken back is gone for the others.
    for (const relation of [...relations.slice(2), ...relations.slice(0, 2)]) {
      const before = await held();
      const answer = await send(who[relation], "/recording/keep", { ...item, id: crypto.randomUUID() });
      await answer.arrayBuffer();
      const taken = (await held()) > before ? "held" : "yes";
      answers.set(
        relation,
        answer.status === 200 ? taken : answer.status === 401 ? "sign-in" : String(answer.status),
      );
    }
    expect(relations.map((relation) => answers.get(relation))).toEqual(expected);
  });

  it("is in the table, of every kind", () => {
    const kinds = queuedSchema._zod.def.options.map(({ shape }) => [...shape.kind._zod.values][0]);
    expect(Object.keys(sentByDevices).sort()).toEqual(kinds.sort());
  });
});

/** The open page of a person: what its stream told so far. Null where there is none. */
async function listen(one: Visitor, signal: AbortSignal): Promise<{ told: () => string } | null> {
  const answer = await one.get("/live", { signal });
  if (!answer.headers.get("Content-Type")?.startsWith("text/event-stream")) return null;
  let told = "";
  const read = async () => {
    const decoder = new TextDecoder();
    for await (const part of answer.body ?? []) told += decoder.decode(part, { stream: true });
  };
  void read().catch(() => undefined);
  return { told: () => told };
}

describe("what open pages are told", () => {
  it.each(Object.entries(liveEvents))("%s", async (event, expected) => {
    const stop = new AbortController();
    const streams = new Map<Relation, { told: () => string } | null>();
    for (const relation of relations) streams.set(relation, await listen(who[relation], stop.signal));
    const name = /`(\w+)`/.exec(event)?.[1] ?? "";
    const heard = (relation: Relation) =>
      streams
        .get(relation)
        ?.told()
        .split("event: ")
        .some((one) => one.startsWith(name));
    const part = {
      student_id: ids["studentId"],
      person_id: (await demoIds(db.owner)).person("hana").personId,
    };
    if (name === "changed") await keep(who.leads, recordedItem(await demoIds(db.owner)));
    else
      expect(
        (
          await who.leads.post(fill("/students/:studentId/circle"), {
            intent: "end",
            personId: part.person_id,
          })
        ).status,
      ).toBe(302);
    const told = relations.filter((_, at) => expected[at] === "told");
    await expect.poll(() => told.filter(heard), { timeout: 10_000 }).toEqual(told);
    // Twice as long as a viewer is told at most: whoever is to hear nothing would have heard by now.
    await new Promise((resolve) => setTimeout(resolve, 2500));
    expect(
      relations.map((relation) =>
        streams.get(relation) === null ? "sign-in" : heard(relation) ? "told" : "silent",
      ),
    ).toEqual(expected);
    stop.abort();
  });
});

describe("what the server does by itself", () => {
  it("is in the table", () => {
    expect(Object.keys(jobs).sort()).toEqual([...queues].sort());
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
  const tableOf = (first: string, lines: Readonly<Record<string, readonly string[]>>) =>
    [
      header([first, ...relations]),
      ...Object.entries(lines).map(([name, answers]) => row([name, ...answers])),
    ].join("\n");
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

## What a device sends

${tableOf("What is sent", sentByDevices)}

## What open pages are told

A page that is open hears of a student only while its person may read there. \`silent\`: nothing comes; \`sign-in\`: there is no stream.

${tableOf("Event", liveEvents)}

## What the server does by itself

No address starts a job. Each is entered with the application's key for one school; the database gives it that school and no other.

${header(["Queue", "Reaches"])}
${Object.entries(jobs)
  .map(([queue, reaches]) => row([queue, reaches]))
  .join("\n")}
`;
}
