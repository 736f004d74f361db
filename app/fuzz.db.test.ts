import { readdirSync, readFileSync } from "node:fs";
import { request } from "node:http";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { v7 as newId } from "uuid";
import { describe, expect, it } from "vitest";
import { openThrowaway } from "#tests/database.ts";
import { demoIds, type DemoIds } from "#tests/demo-school.ts";
import { withSlowTests } from "#tests/eight-days.ts";
import { recordedItem } from "#tests/recorded.ts";
import { routePaths } from "#tests/route-paths.ts";
import { signedIn, type Visitor } from "#tests/session.ts";
import { startWebServer, type WebServer } from "#tests/web-server.ts";

/** The same requests in every run: a generator that begins with this number. */
const seed = 20_261_128;
const count = 10_000;

/** mulberry32, a small generator of 32 bits (from memory). */
function generator(start: number): () => number {
  let state = start;
  return () => {
    state = (state + 0x6d2b79f5) | 0;
    let mixed = Math.imul(state ^ (state >>> 15), 1 | state);
    mixed = (mixed + Math.imul(mixed ^ (mixed >>> 7), 61 | mixed)) ^ mixed;
    return ((mixed ^ (mixed >>> 14)) >>> 0) / 2 ** 32;
  };
}

/** Texts, numbers and dates that programs trip over. */
const hostile = [
  ...["", " ", "\u0000", "a\u0000b", "\ud800", "x\udfff", "\u202eabc", "💥".repeat(40), "x".repeat(5000)],
  ...[
    "-1",
    "0",
    "-0",
    "1e309",
    "NaN",
    "Infinity",
    "99999999999999999999",
    "2147483648",
    "-2147483649",
    "0x10",
    "1.5",
  ],
  ...[
    "0000-01-01",
    "0000-00-00",
    "9999-12-31",
    "99999-01-01",
    "-0001-01-01",
    "2026-02-30",
    "2026-13-01",
    "1-1-1",
  ],
  ...[
    "2026-11-20T25:61",
    "0000-01-01T00:00",
    "9999-12-31T23:59",
    "2026-11-20T10:00:00.000Z",
    "24:00",
    "7:5",
    "99:99",
  ],
  ...[
    "not-an-id",
    "00000000-0000-0000-0000-000000000000",
    "' or 1=1 --",
    "<script>alert(1)</script>",
    "${7*7}",
  ],
  ...[
    "[]",
    "{}",
    "null",
    "true",
    '{"a":1}',
    '{"kind":"trials"}',
    "[[[[[[[[",
    "../../etc/passwd",
    "%00",
    "%ff",
    "=cmd()",
  ],
];

const folder = fileURLToPath(new URL(".", import.meta.url));
const sources = readdirSync(folder, { recursive: true, encoding: "utf8" })
  .filter((name) => /\.tsx?$/.test(name) && !name.includes(".test."))
  .map((name) => readFileSync(join(folder, name), "utf8"))
  .join("\n");
const named = (pattern: RegExp) => [
  ...new Set([...sources.matchAll(pattern)].flatMap(([, name]) => name ?? [])),
];
/** Every name of a field, an intent and a query that the application's own code speaks of. */
const fieldNames = [
  ...named(/\bname="([\w.-]+)"/g),
  ...named(/form\.get\("([\w.-]+)"\)/g),
  ...named(/^\s+(\w+): (?:z\.|text\(|optionalText\(|id\b|date\b|optionalDate\b)/gm),
];
const intents = [
  // What stands between the braces of `intents: { … }`, and every intent that a button or a hidden field sends.
  ...[...sources.matchAll(/intents: \{([^}]*)\}/g)].flatMap(([, inside = ""]) =>
    [...inside.matchAll(/"?([\w -]+)"?\s*[:,]/g)].map(([, name = ""]) => name.trim()),
  ),
  ...named(/name="intent"\s+value="([\w -]+)"/g),
];
const queries = named(/(?:searchParams|search|query)\.get(?:All)?\("([\w-]+)"\)/g);

const all = routePaths.filter((path) => !["/sign-out", "/live"].includes(path));

/** One change somewhere in a value, by a hostile one. */
function spoiled(value: unknown, chance: () => number, other: () => unknown): unknown {
  if (typeof value !== "object" || value === null || chance() < 0.1) return other();
  const entries: [string, unknown][] = Object.entries(value);
  const at = Math.floor(chance() * entries.length);
  const changed = entries.map(([key, inner], index): [string, unknown] => [
    key,
    index === at ? spoiled(inner, chance, other) : inner,
  ]);
  if (Array.isArray(value)) return changed.map((pair): unknown => pair[1]);
  return chance() < 0.1
    ? Object.fromEntries(entries.filter((_, index) => index !== at))
    : Object.fromEntries(changed);
}

interface Asking {
  what: string;
  send: () => Promise<Response | number>;
}

/** Sends what no client library sends: a request line and headers as they stand here. */
const raw = (web: WebServer, path: string, headers: Record<string, string>, method = "GET") =>
  new Promise<number>((resolve) => {
    const { hostname, port } = new URL(web.url);
    const sent = request({ hostname, port, path, method, headers, setHost: false }, (answer) => {
      answer.resume();
      resolve(answer.statusCode ?? 0);
    });
    // The parser hangs up on what is no HTTP at all.
    sent.on("error", () => resolve(400));
    sent.setTimeout(30_000, () => sent.destroy());
    sent.end();
  });

interface Form {
  path: string;
  fields: [name: string, value: string][];
}

const unescaped = (text: string) =>
  text.replace(
    /&(quot|amp|lt|gt|#x27);/g,
    (_, name: string) => ({ quot: '"', amp: "&", lt: "<", gt: ">" })[name] ?? "'",
  );
const attribute = (tag: string, name: string) =>
  unescaped(new RegExp(`\\s${name}="([^"]*)"`).exec(tag)?.[1] ?? "");

/** The forms of a page as a browser would send them untouched, once for each of their buttons. */
function formsOf(path: string, html: string): Form[] {
  return [...html.matchAll(/<form[^>]*method="post"[^>]*>([\s\S]*?)<\/form>/g)].flatMap(
    ([form, inside = ""]) => {
      const action = attribute(form.slice(0, form.indexOf(">")), "action") || path;
      const fields = [
        ...inside.matchAll(/<(?:input|textarea|select)[^>]*>(?:([^<]*)<\/textarea>)?/g),
      ].flatMap(([tag, typed]): [string, string][] => {
        const [name, type] = [attribute(tag, "name"), attribute(tag, "type")];
        const left = !name || (["checkbox", "radio"].includes(type) && !/\schecked/.test(tag));
        return left ? [] : [[name, typed === undefined ? attribute(tag, "value") || "on" : unescaped(typed)]];
      });
      const buttons = [...inside.matchAll(/<button[^>]*name="[^>]*>/g)].map(([tag]): [string, string] => [
        attribute(tag, "name"),
        attribute(tag, "value"),
      ]);
      return [fields, ...buttons.map((button) => [...fields, button])].map((sent) => ({
        path: action,
        fields: sent,
      }));
    },
  );
}

/** Every form that these people find on the pages that there are. */
async function crawl(demo: DemoIds, people: readonly Visitor[]): Promise<Form[]> {
  const ids: Record<string, string> = { studentId: demo.student("Wren"), goalId: demo.goal("Wren", "2b") };
  const pages = all.filter((path) => !/:(?!studentId|goalId)/.test(path.replace(/\/:\w+\?/g, "")));
  const forms: Form[] = [];
  for (const who of people)
    for (const page of pages) {
      const path = page.replace(/\/:\w+\?/g, "").replace(/:(\w+)/g, (_, name: string) => ids[name] ?? "");
      const answer = await who.get(path);
      if (answer.headers.get("Content-Type")?.startsWith("text/html"))
        forms.push(...formsOf(path, await answer.text()));
    }
  // Who signs these sessions out, or changes their password, ends what is tried here.
  const ends = (fields: Form["fields"]) =>
    fields.some(([name, value]) => name === "intent" && /^sign out|password|second step/.test(value));
  return forms.filter(({ path, fields }) => !path.startsWith("/sign-") && !ends(fields));
}

function requests(demo: DemoIds, forms: readonly Form[], chance: () => number) {
  const pick = <T>(list: readonly T[]): T => list[Math.floor(chance() * list.length)] as T;
  const odd = () => pick(hostile);
  const ids: Record<string, string> = {
    ...{ studentId: demo.student("Wren"), goalId: demo.goal("Wren", "2b") },
    ...{ personId: demo.person("ines").personId, groupId: newId(), templateId: newId() },
  };
  const param = (name: string) =>
    chance() < 0.7 ? (ids[name] ?? newId()) : encodeURIComponent(odd().toWellFormed());
  // Mostly as data: a page is drawn for nobody here, and drawing it takes most of the time.
  const asData = (path: string) => (chance() < 0.8 && !/[?]|^\/$/.test(path) ? `${path}.data` : path);
  const address = () => {
    const path = pick(all)
      .replace(/:(\w+)\??/g, (_, name: string) => param(name))
      .replace("*", "nowhere");
    const asked = Array.from({ length: Math.floor(chance() * 3) }, () => [
      chance() < 0.8 ? pick(queries) : pick(fieldNames),
      odd().toWellFormed(),
    ]);
    const query = asked.length > 0 ? `?${new URLSearchParams(asked).toString()}` : "";
    return asData(path) + query;
  };
  const values: (() => string)[] = [
    odd,
    odd,
    () => pick(Object.values(ids)),
    () => newId(),
    () => "2026-11-20",
    () => "3",
  ];
  const form = () => [
    ...(chance() < 0.7 ? [["intent", pick(intents)]] : []),
    ...Array.from({ length: Math.floor(chance() * 12) }, () => [pick(fieldNames), pick(values)()]),
  ];
  const item = () =>
    spoiled(
      {
        ...recordedItem(demo),
        ...pick([
          {},
          {},
          { kind: "not measured", reason: "refused" },
          { kind: "second", withSittingId: null },
        ]),
      },
      chance,
      () => pick<unknown>([odd(), 0, -1, 1e308, 2 ** 53, null, [], {}, true, odd(), [odd()]]),
    );
  const json = [
    "/recording/keep",
    "/recording/now",
    "/recording/pack",
    "/recording/near",
    "/recording/hand-over",
    "/recording/unlock",
    "/recording/hand-in",
  ];
  const types = [
    "text/plain",
    "multipart/form-data",
    "multipart/form-data; boundary=x",
    "application/json",
    "",
    "a/b",
  ];

  return (who: Visitor, web: WebServer): Asking => {
    const kind = chance();
    if (kind < 0.3) {
      const path = address();
      return { what: `GET ${path}`, send: () => who.get(path) };
    }
    if (kind < 0.55) {
      const { path: of, fields } = pick(forms);
      const path = asData(of);
      const touched = new Set(
        Array.from({ length: Math.ceil(chance() * 3) }, () => Math.floor(chance() * fields.length)),
      );
      const body = new URLSearchParams(
        fields.map(([name, value], at) => [name, touched.has(at) ? pick(values)().toWellFormed() : value]),
      );
      return {
        what: `form ${path} ${body.toString().slice(0, 1500)}`,
        send: () => who.post(path, {}, { body }),
      };
    }
    if (kind < 0.7) {
      const [path, fields] = [address(), form()];
      const body = new URLSearchParams(fields);
      return {
        what: `POST ${path} ${body.toString().slice(0, 300)}`,
        send: () => who.post(path, {}, { body }),
      };
    }
    if (kind < 0.88) {
      const [path, body] = [chance() < 0.8 ? "/recording/keep" : pick(json), JSON.stringify(item())];
      const headers = { "Content-Type": "application/json" };
      return {
        what: `POST ${path} ${body.slice(0, 1500)}`,
        send: () => who.post(path, {}, { body, headers }),
      };
    }
    if (kind < 0.95) {
      const [path, type, body] = [
        address(),
        pick(types),
        pick([odd(), "--x\r\n\r\n", JSON.stringify(form())]),
      ];
      const sent = new Blob([body]);
      const headers = { "Content-Type": type };
      return {
        what: `POST ${path} as ${type}: ${body.slice(0, 100)}`,
        send: () => who.post(path, {}, { body: sent, headers }),
      };
    }
    const host = pick(["", "a b", "[::1", "evil.example", "localhost:99999", "x@localhost", "localhost/.."]);
    const path = pick([
      "/",
      "//",
      "/%",
      "/%00",
      "/caseload//",
      "/%ff%fe",
      "*",
      "http://evil.example/",
      "/students/%2e%2e",
    ]);
    const headers = {
      Host: chance() < 0.5 ? host : "localhost",
      Cookie: who.cookie(),
      "X-Forwarded-For": odd().replace(/[^\x20-\x7e]/g, ""),
    };
    const method = pick(["GET", "POST", "PUT", "TRACE"]);
    return {
      what: `raw ${method} ${path} of ${host}`,
      send: () => raw(web, path, headers, method),
    };
  };
}

describe.runIf(withSlowTests)("ten thousand requests with whatever one can type or send", () => {
  it("meet no server error", { timeout: 1_800_000 }, async () => {
    expect([fieldNames.length > 80, intents.length > 15, queries.length > 15]).toEqual([true, true, true]);
    const db = await openThrowaway("demo");
    const web = await startWebServer(db.appUrl, { LOG_LEVEL: "info" });
    try {
      const demo = await demoIds(db.owner);
      const people = await Promise.all((["noor", "desmond"] as const).map((name) => signedIn(web.url, name)));
      const forms = await crawl(demo, people);
      expect(forms.length).toBeGreaterThan(60);
      const next = requests(demo, forms, generator(seed));
      const failed: { what: string; status: number | string }[] = [];
      const answered: Record<number | string, number> = {};
      let left = count;
      let away = 0;
      const worker = async (name: "noor" | "desmond") => {
        let who = await signedIn(web.url, name);
        while (left > 0) {
          left -= 1;
          const { what, send } = next(who, web);
          // A request that gets no answer is as bad as one that meets an error.
          const ask = () =>
            send().then(
              // Read to its end: a page that breaks off in the middle is an error too.
              (answer) => (answer instanceof Response ? answer.text().then(() => answer.status) : answer),
              (error: unknown) => String(error),
            );
          let status = await ask();
          // On a machine that is busy with other tests the database may not answer in time: asked again.
          for (let again = 0; status === 503 && again < 3; again += 1) {
            away += 1;
            await new Promise((resolve) => setTimeout(resolve, 2500));
            status = await ask();
          }
          answered[status] = (answered[status] ?? 0) + 1;
          if (typeof status === "string" || status >= 500) failed.push({ what, status });
          if (left % 500 === 0) who = await signedIn(web.url, name);
        }
      };
      await Promise.all([...Array.from({ length: 5 }, () => worker("noor")), worker("desmond")]);
      console.log("answers by status", answered);
      const errors = web.log.filter(
        (line) => line.includes('"level":50') && !line.includes('"msg":"database unavailable"'),
      );
      expect({ failed, errors: errors.slice(0, 20) }).toEqual({ failed: [], errors: [] });
      expect(away).toBeLessThan(count / 20);
    } finally {
      await web.stop();
      await db.close();
    }
  });
});
