import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";
import { mkdtempSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { tmpdir } from "node:os";
import { join } from "node:path";
import { afterAll, beforeAll, describe, expect, it } from "vitest";
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
const children: ChildProcess[] = [];
beforeAll(async () => {
  data = mkdtempSync(join(tmpdir(), "gentle-margin-supervise-"));
  claims = await import("#scripts/claim.mjs");
  const { clusterFolder } = (await import("#scripts/postgres.mjs")) as {
    clusterFolder: (options: object) => string;
  };
  cluster = clusterFolder({ root: process.getuid?.() === 0, base: data, name: "cluster" });
});
afterAll(() => {
  for (const child of children)
    if (child.exitCode === null && child.signalCode === null) child.kill("SIGKILL");
  rmSync(cluster, { recursive: true, force: true });
  rmSync(data, { recursive: true, force: true });
});

/** One of our commands, in a data folder of its own, with everything that it printed. */
function command(file: string, ...args: string[]) {
  const child = spawn(process.execPath, [file, ...args], {
    cwd: project,
    stdio: ["ignore", "pipe", "pipe"],
    env: { PATH: process.env["PATH"], HOME: process.env["HOME"], GENTLE_MARGIN_DATA: data },
  });
  children.push(child);
  let said = "";
  for (const stream of [child.stdout, child.stderr])
    stream.on("data", (chunk: Buffer) => {
      said += chunk.toString();
    });
  const ended = once(child, "exit").then(([code]) => code as number | null);
  return { child, ended, said: () => said };
}

const addressIn = (text: string) => /Gentle Margin is at (http:\S+)/.exec(text)?.[1] ?? null;
const readNote = () =>
  JSON.parse(readFileSync(join(data, "running.json"), "utf8")) as { pid: number; web: { pid: number } };
const isReady = (url: string) =>
  fetch(`${url}/ready`).then(
    (answer) => answer.status,
    () => 0,
  );
const patience = { timeout: 60_000, interval: 200 };
const isGone = (pid: number) => {
  try {
    process.kill(pid, 0);
    return false;
  } catch {
    return true;
  }
};

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

describe.runIf(withSlowTests)("npm start", () => {
  it("starts a killed web server and a killed database again, lets no second start in, and ends what a killed parent left", async () => {
    const first = command("scripts/up.mjs");
    await expect.poll(() => addressIn(first.said()), patience).not.toBeNull();
    const url = addressIn(first.said()) ?? "";
    expect(await isReady(url)).toBe(200);
    const { web } = readNote();

    process.kill(web.pid, "SIGKILL");
    await expect.poll(() => first.said(), patience).toContain("The web server serves again.");
    expect(await isReady(url)).toBe(200);

    process.kill(Number(readFileSync(join(cluster, "postmaster.pid"), "utf8").split("\n")[0]), "SIGKILL");
    await expect
      .poll(() => first.said(), patience)
      .toContain("The database had ended and was started again.");
    await expect.poll(() => isReady(url), patience).toBe(200);

    const second = command("scripts/up.mjs");
    expect(await second.ended).not.toBe(0);
    expect(second.said()).toContain("already running here");
    // A command on the same database comes and goes without taking it along.
    const backup = command("scripts/with-database.mjs", "cli/backup.ts");
    expect([await backup.ended, backup.said()]).toEqual([0, expect.stringContaining("Backed up to")]);
    expect(await isReady(url)).toBe(200);

    const left = readNote().web.pid;
    first.child.kill("SIGKILL");
    await first.ended;
    expect(isGone(left)).toBe(false);
    const third = command("scripts/up.mjs");
    await expect.poll(() => addressIn(third.said()), patience).toBe(url);
    expect(third.said()).toContain("left behind was ended");
    expect(isGone(left)).toBe(true);
    expect(await isReady(url)).toBe(200);
    third.child.kill("SIGTERM");
    expect(await third.ended).toBe(0);
    expect(await isReady(url)).toBe(0);
    expect(readdirSync(join(data, "users"))).toEqual([]);
  }, 240_000);
});
