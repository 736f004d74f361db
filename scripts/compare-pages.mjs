/**
 * `npm run compare-pages -- REVISION`: renders every page of the demo with an earlier revision and with this one, each on its own
 * database and at the same moment, and prints the lines of text that differ. For changes of structure that no person should see.
 */
import { spawn } from "node:child_process";
import { existsSync, mkdtempSync, rmSync, symlinkSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { createInterface } from "node:readline";
import { exitOnSetupError, SetupError, step } from "./console.mjs";
import { startCluster } from "./postgres.mjs";
import { endChild, run } from "./process.mjs";
import { checkNode, ensurePackages, ensurePrograms, projectFolder } from "./setup.mjs";

const people = ["noor.halloran", "ines.okafor", "desmond.achterberg"];
const password = "gentle margin demo";
const mostPages = 2000;
/** Neither pages nor files: streams, what a device fetches, and leaving. */
const notPages = /^\/(live|sign-out|sign-in|recording|find|assets|sw\.js)/;

/** What a person or a screen reader would read of a page, a line for each piece. */
function textOf(html) {
  const said = [...html.matchAll(/\s(?:aria-label|title|alt|placeholder)="([^"]*)"/g)].map(
    ([, text]) => text,
  );
  const text = html
    .replace(/<(script|style)\b[^>]*>[\s\S]*?<\/\1>/g, "")
    .replace(/<[^>]+>/g, "\n")
    .split("\n");
  return [...text, ...said].map((line) => line.trim()).filter(Boolean);
}

const linksOf = (html) =>
  [...html.matchAll(/<a\b[^>]*\shref="(\/[^"#]*)/g)].map(([, href]) => href.replaceAll("&amp;", "&"));

/** Every page that a person reaches by links, with its text. */
async function pagesOf(url, email) {
  const signedIn = await fetch(`${url}/sign-in`, {
    method: "POST",
    redirect: "manual",
    body: new URLSearchParams({ email, password }),
    headers: { Origin: url },
  });
  const cookie = signedIn.headers.getSetCookie()[0]?.split(";")[0] ?? "";
  if (signedIn.status !== 302) throw new SetupError(`${email} could not sign in (${signedIn.status}).`);
  const pages = new Map();
  const waiting = ["/caseload", "/today", "/school/calendar"];
  const known = new Set(waiting);
  for (let path = waiting.shift(); path && pages.size < mostPages; path = waiting.shift()) {
    const answer = await fetch(url + path, { headers: { Cookie: cookie }, redirect: "manual" });
    const body = await answer.text();
    const isPage = answer.headers.get("Content-Type")?.startsWith("text/html") ?? false;
    pages.set(`${email} ${path}`, [String(answer.status), ...(isPage ? textOf(body) : body.split("\n"))]);
    for (const link of isPage ? linksOf(body) : [])
      if (!known.has(link) && !notPages.test(link)) {
        known.add(link);
        waiting.push(link);
      }
  }
  return pages;
}

/** Prepares a database with the code of that folder, seeds the demo, serves it, and reads every page. */
async function render(folder, cluster, database) {
  const { urls, secrets } = cluster;
  const ownerUrl = urls.owner(database);
  const typeScript = (file, ...args) =>
    run(process.execPath, ["--import", "tsx", file, ...args], { cwd: folder });
  const own = {
    ...{ admin: urls.admin, database, fresh: false },
    ...{ ownerPassword: secrets.owner, appPassword: secrets.app },
  };
  await typeScript("cli/prepare.ts", JSON.stringify({ own, ownerUrl, appUrl: urls.app(database) }));
  await typeScript("demo/seed-command.ts", ownerUrl);
  await run(process.execPath, ["scripts/build.mjs"], { cwd: folder });
  const web = spawn(process.execPath, ["build/server/index.js"], {
    cwd: folder,
    stdio: ["ignore", "pipe", "inherit"],
    env: {
      ...process.env,
      ...{ NODE_ENV: "production", LOG_LEVEL: "info", PORT: "0", HOST: "127.0.0.1" },
      APP_DATABASE_URL: urls.app(database),
    },
  });
  try {
    const port = await new Promise((resolve, reject) => {
      web.once("exit", () => reject(new SetupError(`The server of ${folder} ended.`)));
      createInterface({ input: web.stdout }).on("line", (line) => {
        const said = line.startsWith("{") ? JSON.parse(line) : {};
        if (said.msg === "listening") resolve(said.port);
      });
    });
    const pages = new Map();
    for (const name of people)
      for (const [page, text] of await pagesOf(`http://localhost:${port}`, `${name}@larkspurbay.example`))
        pages.set(page, text);
    return pages;
  } finally {
    await endChild(web);
  }
}

function differences(before, after) {
  const found = [];
  for (const page of new Set([...before.keys(), ...after.keys()])) {
    const [old, now] = [before.get(page) ?? ["(no page)"], after.get(page) ?? ["(no page)"]];
    if (old.join("\n") === now.join("\n")) continue;
    const gone = old.filter((line) => !now.includes(line));
    const come = now.filter((line) => !old.includes(line));
    found.push({ page, gone, come, order: gone.length + come.length === 0 });
  }
  return found;
}

async function main() {
  checkNode();
  const [revision] = process.argv.slice(2);
  if (!revision) throw new SetupError("Which revision? npm run compare-pages -- REVISION");
  await ensurePrograms(["postgres"]);
  await ensurePackages();
  const base = mkdtempSync(join(tmpdir(), "gentle-margin-compare-"));
  const folder = join(base, "before");
  const clockAhead = Date.parse("2026-11-24T18:40:00Z") - Date.now();
  const settings = { fsync: "off", "app.clock_ahead": `${clockAhead} milliseconds` };
  const cluster = await startCluster({ base, name: `compare-${process.pid}`, settings, wishedPort: 57000 });
  try {
    await run("git", ["worktree", "add", "--detach", folder, revision], { cwd: projectFolder });
    if (!existsSync(join(folder, "node_modules")))
      symlinkSync(join(projectFolder, "node_modules"), join(folder, "node_modules"));
    const before = await step(`Rendering ${revision}`, () => render(folder, cluster, "compare_before"));
    const after = await step("Rendering this one", () => render(projectFolder, cluster, "compare_after"));
    const found = differences(before, after);
    for (const { page, gone, come, order } of found) {
      console.log(`\n${page}${order ? ": the same lines in another order" : ""}`);
      for (const line of gone.slice(0, 20)) console.log(`  - ${line}`);
      for (const line of come.slice(0, 20)) console.log(`  + ${line}`);
    }
    console.log(`\n${before.size} pages before, ${after.size} now, ${found.length} differ`);
    process.exitCode = found.length > 0 ? 1 : 0;
  } finally {
    await run("git", ["worktree", "remove", "--force", folder], { cwd: projectFolder }).catch(
      () => undefined,
    );
    await cluster.stop().catch(() => undefined);
    cluster.remove();
    rmSync(base, { recursive: true, force: true });
  }
}

main().catch(exitOnSetupError);
