/** Who works here: what only one process at a time may do, and who uses the database. */
import { createHash } from "node:crypto";
import { mkdirSync, readdirSync, readFileSync, rmSync } from "node:fs";
import { createServer } from "node:net";
import { join } from "node:path";
import { SetupError } from "./console.mjs";
import { dataFolder } from "./setup.mjs";
import { readState, writeState } from "./state.mjs";

/** Who serves from this data folder: `pid`, `address`, `site`, `build` and the web servers (`web`, `next`) of the start command. */
export const runningFile = join(dataFolder, "running.json");

/**
 * Takes a lock that the kernel keeps (an abstract socket): no other process has it meanwhile, and it is free again as soon as this one is
 * no more, however it ended. Answers how to give it back; null where another has it and does not give it back in time.
 */
export async function takeLock(what, { folder = dataFolder, wait = 0, onWait = () => undefined } = {}) {
  const name = createHash("sha256").update(folder).digest("hex").slice(0, 24);
  const until = Date.now() + wait;
  for (let told = false; ;) {
    const server = createServer((socket) => socket.destroy());
    const taken = await new Promise((resolve, reject) => {
      server.once("error", (error) => (error.code === "EADDRINUSE" ? resolve(false) : reject(error)));
      server.listen({ path: `\0gentle-margin ${name} ${what}` }, () => resolve(true));
    });
    if (taken) {
      server.unref();
      return () => new Promise((resolve) => server.close(() => resolve()));
    }
    if (Date.now() >= until) return null;
    if (!told) onWait();
    told = true;
    await new Promise((resolve) => setTimeout(resolve, 100));
  }
}

/** One of our commands on a database at a time: the next waits for it. */
export async function takeCommandLock() {
  const letGo = await takeLock("command", {
    wait: 600_000,
    onWait: () => console.error("Another command is at work here; waiting for it …"),
  });
  if (!letGo)
    throw new SetupError("Another command has been at work here for ten minutes. Nothing was done.");
  return letGo;
}

/** When a process began, as the kernel counts; null where there is none. A number is used again, a beginning is not. */
function beganAt(pid) {
  try {
    const text = readFileSync(`/proc/${pid}/stat`, "utf8");
    return text.slice(text.lastIndexOf(")") + 2).split(" ")[19] ?? null;
  } catch {
    return null;
  }
}

/** A process, so that it is known again. */
export const noteOf = (pid) => ({ pid, began: beganAt(pid) });

/** Is the process that was noted still there? */
export const isThere = (noted) => Boolean(noted?.pid && noted.began) && beganAt(noted.pid) === noted.began;

/** Notes that this process uses the database. Answers whether others do, and how to take the note back. */
export function joinUsers({ folder = join(dataFolder, "users") } = {}) {
  mkdirSync(folder, { recursive: true, mode: 0o700 });
  const mine = join(folder, `${process.pid}.json`);
  writeState(mine, noteOf(process.pid));
  return {
    others: () => {
      const there = readdirSync(folder).filter(
        (name) => /^\d+\.json$/.test(name) && join(folder, name) !== mine,
      );
      for (const name of there)
        if (!isThere(readState(join(folder, name)))) rmSync(join(folder, name), { force: true });
      return there.filter((name) => isThere(readState(join(folder, name)))).length;
    },
    leave: () => rmSync(mine, { force: true }),
  };
}

/** Ends a process that an earlier run left behind, and no other: by its noted number and beginning. */
export async function endLeftover(noted, { patience = 6000 } = {}) {
  if (!isThere(noted)) return false;
  process.kill(noted.pid, "SIGTERM");
  for (const until = Date.now() + patience; isThere(noted);) {
    if (Date.now() > until) process.kill(noted.pid, "SIGKILL");
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
  return true;
}
