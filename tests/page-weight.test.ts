import { mkdirSync, readdirSync, readFileSync, rmSync, statSync, writeFileSync } from "node:fs";
import { spawnSync } from "node:child_process";
import { join } from "node:path";
import { fileURLToPath } from "node:url";
import { gzipSync } from "node:zlib";
import { afterAll, beforeAll, describe, expect, it } from "vitest";

const project = fileURLToPath(new URL("..", import.meta.url));
const emptyApp = join(project, "build", "empty-page");

interface Manifest {
  entry: { module: string; imports: string[] };
  routes: Record<
    string,
    { id: string; parentId?: string; path?: string; module: string; imports?: string[]; css?: string[] }
  >;
}

function readManifest(client: string): Manifest {
  // The folder also has the maps of earlier versions.
  const age = (name: string) => statSync(join(client, "assets", name)).mtimeMs;
  const maps = readdirSync(join(client, "assets")).filter((name) => /^manifest-.*\.js$/.test(name));
  const file = maps.sort((a, b) => age(b) - age(a))[0] ?? "";
  const text = readFileSync(join(client, "assets", file), "utf8")
    .replace(/^window\.__reactRouterManifest=/, "")
    .replace(/;\s*$/, "");
  return JSON.parse(text) as Manifest;
}

/** The scripts a page loads at first, gzipped: the entry's and those of its chain of routes, with all they import at once. */
function firstLoad(client: string, routeId: string): number {
  const { entry, routes } = readManifest(client);
  const files = new Set([entry.module, ...entry.imports]);
  for (let route = routes[routeId]; route; route = routes[route.parentId ?? ""])
    for (const file of [route.module, ...(route.imports ?? [])]) files.add(file);
  expect(files.size).toBeGreaterThan(2);
  return [...files].reduce((sum, file) => sum + gzipSync(readFileSync(join(client, file))).length, 0);
}

/** An empty React Router page, built now with the same tools: what the page weighs without us. */
function buildEmptyPage(): void {
  mkdirSync(join(emptyApp, "app", "routes"), { recursive: true });
  const write = (path: string, text: string) => writeFileSync(join(emptyApp, path), text);
  write(
    "package.json",
    '{ "type": "module", "private": true, "dependencies": { "@react-router/node": "*", "isbot": "*" } }',
  );
  write(
    "vite.config.js",
    'import { reactRouter } from "@react-router/dev/vite";\nexport default { plugins: [reactRouter()], build: { target: "es2023" } };\n',
  );
  write(
    "app/routes.js",
    'import { index } from "@react-router/dev/routes";\nexport default [index("routes/home.jsx")];\n',
  );
  write("app/routes/home.jsx", "export default function Home() {\n  return <p>Empty</p>;\n}\n");
  write(
    "app/root.jsx",
    'import { Links, Meta, Outlet, Scripts, ScrollRestoration } from "react-router";\nexport default function App() {\n  return <html lang="en"><head><Meta /><Links /></head><body><Outlet /><ScrollRestoration /><Scripts /></body></html>;\n}\n',
  );
  const built = spawnSync(
    process.execPath,
    [join(project, "node_modules/@react-router/dev/bin.js"), "build"],
    { cwd: emptyApp, encoding: "utf8", env: { ...process.env, NODE_ENV: "production" } },
  );
  if (built.status !== 0) throw new Error(`the empty page was not built\n${built.stderr}`);
}

let emptyPage = 0;
beforeAll(() => {
  buildEmptyPage();
  emptyPage = firstLoad(join(emptyApp, "build", "client"), "routes/home");
});
afterAll(() => rmSync(emptyApp, { recursive: true, force: true }));

describe("our own scripts on the first load, beyond an empty page", () => {
  const client = join(project, "build", "client");
  it.each([
    ["student-goals", 30_000],
    ["routes/recording/record", 45_000],
    ["routes/recording/sitting", 45_000],
    ["routes/caseload/caseload", 30_000],
  ])("of %s are at most %i bytes, gzipped", (route, limit) => {
    const own = firstLoad(client, route) - emptyPage;
    console.log(`${route}: ${own} bytes of ours beyond ${emptyPage} of an empty page`);
    expect(own).toBeGreaterThan(0);
    expect(own).toBeLessThanOrEqual(limit);
  });

  it("of sittings with every panel are at most 45,200 bytes, and all of recording is kept for use without a network", () => {
    const worker = readFileSync(join(client, "sw.js"), "utf8");
    const kept = [...worker.matchAll(/url:"(\/assets\/[^"]+\.js)"/g)].map((found) => found[1] ?? "");
    expect(kept.filter((file) => /^\/assets\/pads-[\w-]+\.js$/.test(file))).toHaveLength(1);
    const weight = (files: readonly string[]) =>
      files.reduce((sum, file) => sum + gzipSync(readFileSync(join(client, file))).length, 0);
    // The map of the site is part of an empty page too. An incident is a screen of its own, and so are the all-day tallies and what the
    // server does not take: they are loaded after the page.
    const ours = kept.filter((file) => !file.includes("/manifest-"));
    const incident = ours.filter((file) => file.includes("/incident-"));
    const notTaken = ours.filter((file) => /\/(not-taken|when-fields)-/.test(file));
    expect(notTaken).toHaveLength(2);
    // Opened by a key, or a few times a day, and loaded for that.
    const help = ours.filter((file) => file.includes("/help-"));
    const handOver = ours.filter((file) => file.includes("/holder-sheet-"));
    const addGoals = ours.filter((file) => file.includes("/add-goals-"));
    expect(addGoals).toHaveLength(1);
    // A device that locked is opened before anything else is loaded, and what stands in for a sitting that is not there needs nothing else.
    const lock = ours.filter((file) =>
      /\/(lock(-view|-when-unused)?|leave|hand-in|no-sitting|pin-field)-/.test(file),
    );
    expect(lock).toHaveLength(7);
    // What stands in for other pages without a network is a page of its own.
    const offline = ours.filter((file) => file.includes("/offline-"));
    // The names of other students are looked for once a note is begun.
    const names = ours.filter((file) => /\/(names-under|kept-names)-/.test(file));
    expect(names.length).toBeGreaterThan(0);
    // What a sitting became is shown once it is saved.
    const saved = ours.filter((file) => /\/(saved-view|take-back)-/.test(file));
    expect([help.length, handOver.length, offline.length]).toEqual([1, 1, 1]);
    expect(saved.length).toBeGreaterThan(0);
    const jot = ours.filter((file) => /\/(jot-view|pictures)-/.test(file));
    expect(jot).toHaveLength(2);
    const tally = ours.filter((file) => file.includes("/tally-view-"));
    expect(tally).toHaveLength(1);
    const sittings =
      weight(ours) -
      weight(incident) -
      weight(jot) -
      weight(tally) -
      weight(help) -
      weight(handOver) -
      weight(lock) -
      weight(addGoals) -
      weight(offline) -
      weight(saved) -
      weight(names) -
      weight(notTaken) -
      emptyPage;
    console.log(
      `sittings in all: ${sittings} bytes of ours; the incident screen ${weight(incident)} more, jots ${weight(jot)}, the tallies ${weight(tally)}, help ${weight(help)}`,
    );
    // 0.2 kB more since a note may be for the team only, with what that means, and written dates are remembered.
    expect(sittings).toBeLessThanOrEqual(45_200);
    expect(incident.length).toBeGreaterThan(0);
    // The time of an incident is chosen as that of a jot, and both are loaded with it: 0.6 kB more than an incident alone needed.
    expect(weight(incident)).toBeLessThanOrEqual(10_600);
    expect(weight(jot)).toBeLessThanOrEqual(7000);
    expect(weight(tally)).toBeLessThanOrEqual(4000);
    // Five lines for each screen, about 180 bytes, fetched when help is asked for.
    expect(weight(help)).toBeLessThanOrEqual(6000);
    expect(weight(handOver)).toBeLessThanOrEqual(2000);
    expect(weight(addGoals)).toBeLessThanOrEqual(1000);
    expect(weight(lock)).toBeLessThanOrEqual(5000);
    expect(weight(offline)).toBeLessThanOrEqual(2000);
    expect(weight(saved)).toBeLessThanOrEqual(3000);
    expect(weight(names)).toBeLessThanOrEqual(9050);
  });

  it("have their styles in one file: what is loaded later brings none along", () => {
    // The folder also has what earlier versions had; the worker names what this one has.
    const worker = readFileSync(join(client, "sw.js"), "utf8");
    expect([...worker.matchAll(/url:"\/assets\/[^"]+\.css"/g)]).toHaveLength(1);
  });

  it("leave the chart to be loaded on its own, and never hold the whole of zod", () => {
    const { routes, entry } = readManifest(client);
    const atOnce = new Set([
      entry.module,
      ...entry.imports,
      ...Object.values(routes).flatMap((route) => [route.module, ...(route.imports ?? [])]),
    ]);
    const holding = (text: string) =>
      [...atOnce].filter((file) => readFileSync(join(client, file), "utf8").includes(text));
    expect(holding("scatter")).toEqual([]);
    expect(holding("Unrecognized key")).toEqual([]);
  });
});
