import { type ChildProcess, spawn } from "node:child_process";
import { once } from "node:events";

export interface Command {
  child: ChildProcess;
  /** Its exit code. */
  ended: Promise<number | null>;
  /** Everything it printed so far. */
  said: () => string;
}

/** Runs commands of a project's folder, and ends those that a test left. */
export function commandsIn(folder: string, env: Record<string, string> = {}) {
  const children: ChildProcess[] = [];
  return {
    run(file: string, ...args: string[]): Command {
      const child = spawn(process.execPath, [file, ...args], {
        cwd: folder,
        stdio: ["ignore", "pipe", "pipe"],
        env: { PATH: process.env["PATH"], HOME: process.env["HOME"], ...env },
      });
      children.push(child);
      let said = "";
      for (const stream of [child.stdout, child.stderr])
        stream.on("data", (chunk: Buffer) => {
          said += chunk.toString();
        });
      const ended = once(child, "exit").then(([code]) => code as number | null);
      return { child, ended, said: () => said };
    },
    /** Each ends what it has started itself, for which it has a while. */
    async endAll() {
      for (const child of children)
        if (child.exitCode === null && child.signalCode === null) {
          const ended = once(child, "exit");
          child.kill("SIGTERM");
          const late = setTimeout(() => child.kill("SIGKILL"), 20_000);
          await ended;
          clearTimeout(late);
        }
    },
  };
}

/** Where the start command says that it serves; null before. */
export const addressIn = (text: string) => /Gentle Margin is at (http:\S+)/.exec(text)?.[1] ?? null;

/** What a site's /ready answers; 0 where nobody does. */
export const askReady = (url: string) =>
  fetch(`${url}/ready`).then(
    (answer) => answer.status,
    () => 0,
  );

export const isGone = (pid: number) => {
  try {
    process.kill(pid, 0);
    return false;
  } catch {
    return true;
  }
};
