import { mkdtempSync, readdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { createServer } from "node:net";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
import { addressIn, askReady, commandsIn, isGone } from "#tests/command.ts";
import { testCluster } from "#tests/database.ts";
import { withSlowTests } from "#tests/eight-days.ts";

interface Claims {
  takeLock: (
    what: string,
    options: { folder: string; wait?: number },
  ) => Promise<(() => Promise<void>) | null>;
}

const project = new URL("..", import.meta.url).pathname;
let data: string;
let cluster: string;
let claims: Claims;
let commands: ReturnType<typeof commandsIn>;
beforeAll(async () => {
  data = mkdtempSync(join(tmpdir(), "gentle-margin-supervise-"));
  commands = commandsIn(project, { GENTLE_MARGIN_DATA: data });
  claims = await import("#scripts/claim.mjs");
  const { clusterFolder } = (await import("#scripts/postgres.mjs")) as {
    clusterFolder: (options: object) => string;
  };
  cluster = clusterFolder({ root: process.getuid?.() === 0, base: data, name: "cluster" });
});
afterAll(async () => {
  await commands.endAll();
  rmSync(cluster, { recursive: true, force: true });
  rmSync(data, { recursive: true, force: true });
}, 60_000);

const readNote = () =>
  JSON.parse(readFileSync(join(data, "running.json"), "utf8")) as { pid: number; web: { pid: number } };
const secretsThere = () =>
  JSON.parse(readFileSync(join(data, "secrets.json"), "utf8")) as Record<string, string>;

const freePort = () =>
  new Promise<number>((resolve) => {
    const probe = createServer();
    probe.listen(0, "127.0.0.1", () => {
      const { port } = probe.address() as { port: number };
      probe.close(() => resolve(port));
    });
  });

/** Reads the command lines of all processes again and again; answers with all of them when it is called. */
function watchCommandLines() {
  const seen = new Set<string>();
  const look = setInterval(() => {
    for (const pid of readdirSync("/proc").filter((name) => /^\d+$/.test(name)))
      try {
        seen.add(readFileSync(`/proc/${pid}/cmdline`, "utf8"));
      } catch {
        // It ended meanwhile.
      }
  }, 5);
  return () => {
    clearInterval(look);
    return [...seen].join("\n");
  };
}

const patience = { timeout: 180_000, interval: 200 };
describe("a lock", () => {
  it("is one process's at a time, waited for, and free again", async () => {
    const letGo = await claims.takeLock("test", { folder: data });
    expect(letGo).not.toBeNull();
    expect(await claims.takeLock("test", { folder: data })).toBeNull();
    const other = await claims.takeLock("another", { folder: data });
    expect(other).not.toBeNull();
    await other?.();
    const waiting = claims.takeLock("test", { folder: data, wait: 5000 });
    await letGo?.();
    const next = await waiting;
    expect(next).not.toBeNull();
    await next?.();
  });
});

describe("what hinders a start", () => {
  it.each([
    [
      "a wrong password",
      (url: URL) => void (url.password = "wrong"),
      /does not let the account "\w+" in: its password/,
    ],
    [
      "a database that is not there",
      (url: URL) => void (url.pathname = "/nowhere"),
      /there is no database "nowhere"/,
    ],
    ["no server", (url: URL) => void (url.port = "1"), /No PostgreSQL answers at 127\.0\.0\.1:1\./],
  ])("is said in one line: %s", async (_what, spoil, line) => {
    const url = new URL(testCluster().owner);
    url.pathname = "/postgres";
    spoil(url);
    const start = commandsIn(project, { GENTLE_MARGIN_DATA: data, DATABASE_URL: url.toString() }).run(
      "scripts/up.mjs",
    );
    expect(await start.ended).toBe(1);
    expect(start.said()).toMatch(line);
    expect(start.said()).not.toMatch(/^\s+at |wrong@/m);
  });

  it("is said in one line: an option that is none, and an upgrade where nothing runs", async () => {
    const start = commands.run("scripts/up.mjs", "--prot", "80");
    expect([await start.ended, start.said()]).toEqual([
      2,
      expect.stringContaining("The options are --port NUMBER"),
    ]);
    const upgrade = commands.run("scripts/upgrade.mjs");
    expect([await upgrade.ended, upgrade.said()]).toEqual([
      1,
      expect.stringContaining("Nothing is served from this folder"),
    ]);
  });
});

describe.runIf(withSlowTests)("npm start", () => {
  it("starts a killed web server and a killed database again, lets no second start in, and ends what a killed parent left", async () => {
    // The port of an earlier start: at another the tablets would not find what waits on them.
    const port = await freePort();
    writeFileSync(join(data, "ports.json"), JSON.stringify({ school: port }));
    const first = commands.run("scripts/up.mjs");
    await expect.poll(() => addressIn(first.said()), patience).not.toBeNull();
    const url = addressIn(first.said()) ?? "";
    expect(url).toBe(`http://localhost:${port}`);
    // A school that is not there yet is set up with the code that stands here.
    await expect
      .poll(() => first.said(), patience)
      .toMatch(/\/first-run and give this code: [2-9a-z]{5}-[2-9a-z]{5}/);
    expect(await askReady(url)).toBe(200);
    const { web } = readNote();

    process.kill(web.pid, "SIGKILL");
    await expect.poll(() => first.said(), patience).toContain("The web server serves again.");
    expect(await askReady(url)).toBe(200);

    process.kill(Number(readFileSync(join(cluster, "postmaster.pid"), "utf8").split("\n")[0]), "SIGKILL");
    await expect
      .poll(() => first.said(), patience)
      .toContain("The database had ended and was started again.");
    await expect.poll(() => askReady(url), patience).toBe(200);

    const second = commands.run("scripts/up.mjs");
    expect(await second.ended).not.toBe(0);
    expect(second.said()).toContain("already running here");
    // A command on the same database comes and goes without taking it along.
    const backup = commands.run("scripts/with-database.mjs", "cli/backup.ts");
    const watched = watchCommandLines();
    expect([await backup.ended, backup.said()]).toEqual([0, expect.stringContaining("Backed up to")]);
    expect(await askReady(url)).toBe(200);
    // What stands in a command line is shown to everyone on the machine.
    const lines = watched();
    expect(lines).toContain("pg_dump");
    for (const secret of Object.values(secretsThere())) expect(lines).not.toContain(secret);

    const left = readNote().web.pid;
    first.child.kill("SIGKILL");
    await first.ended;
    expect(isGone(left)).toBe(false);
    const third = commands.run("scripts/up.mjs");
    await expect.poll(() => addressIn(third.said()), patience).toBe(url);
    expect(third.said()).toContain("left behind was ended");
    expect(isGone(left)).toBe(true);
    expect(await askReady(url)).toBe(200);
    third.child.kill("SIGTERM");
    expect(await third.ended).toBe(0);
    expect(await askReady(url)).toBe(0);
    expect(readdirSync(join(data, "users"))).toEqual([]);

    // The folder of passwords is lost, and the database is not.
    const lost = secretsThere();
    rmSync(join(data, "secrets.json"));
    const fourth = commands.run("scripts/up.mjs");
    await expect.poll(() => addressIn(fourth.said()), patience).toBe(url);
    expect(await askReady(url)).toBe(200);
    expect(secretsThere()).not.toEqual(lost);
    rmSync(join(data, "secrets.json"));
    const without = commands.run("scripts/with-database.mjs", "cli/backup.ts");
    expect([await without.ended, without.said()]).toEqual([
      1,
      expect.stringContaining("The passwords of the database are lost"),
    ]);
    expect(await askReady(url)).toBe(200);
    fourth.child.kill("SIGTERM");
    expect(await fourth.ended).toBe(0);
  }, 600_000);
});
