import { type ChildProcess, fork } from "node:child_process";
import { readFileSync } from "node:fs";
import { join } from "node:path";
import { v7 as newId } from "uuid";
import { log, loggableError } from "../failure.ts";

/** One document to print. */
export interface PrintJob {
  id: string;
  /** Holds `page.html`, and in `pictures` what it names. */
  folder: string;
  /** The file to write. */
  out: string;
  timeoutMs: number;
  /** Where each report is to begin on a right-hand page: how many there are. */
  onRightPages?: number;
}

/** What became of it: nothing of its content. */
export interface Printed {
  why: null | "no-chromium" | "failed";
}

/** Why there is no PDF. */
export class NotPrinted extends Error {
  constructor(readonly why: "no-chromium" | "failed" | "too-long") {
    super(`not printed: ${why}`);
  }
}

export interface Printer {
  /**
   * Writes a PDF.
   *
   * @throws NotPrinted
   */
  print: (job: Omit<PrintJob, "id" | "timeoutMs"> & { timeoutMs?: number }) => Promise<void>;
  /** The process that prints, where it runs. */
  pid: () => number | null;
  stop: () => Promise<void>;
}

/** How long one report may take, and how long a process without work is kept. */
const longestMs = 30_000;
const idleMs = 5 * 60_000;

/** The processes that a process started. */
export const childrenOf = (pid: number): number[] => {
  try {
    return readFileSync(`/proc/${pid}/task/${pid}/children`, "utf8")
      .trim()
      .split(" ")
      .filter(Boolean)
      .map(Number);
  } catch {
    return [];
  }
};

/** Ends a process that hangs, and the browser it started, which has a process group of its own. */
function endAll(child: ChildProcess): void {
  const groups = child.pid === undefined ? [] : childrenOf(child.pid);
  child.kill("SIGKILL");
  for (const pid of groups)
    try {
      process.kill(-pid, "SIGKILL");
    } catch {
      continue;
    }
}

/**
 * Prints in a process of its own, one document after the other. It is started with the first document and ended after five minutes
 * without one; where it hangs it is killed, and the next document starts another.
 *
 * @param idle milliseconds after which a process without work ends
 */
export function openPrinter({ idle = idleMs }: { idle?: number } = {}): Printer {
  let child: ChildProcess | null = null;
  let timer: NodeJS.Timeout | undefined;
  let queue: Promise<unknown> = Promise.resolve();
  let isStopped = false;

  function worker(): ChildProcess {
    if (child?.connected) return child;
    // From its source, as our commands run: the bundle of the server would bring the whole server along.
    const started = fork(join(process.cwd(), "server/exports/print-worker.ts"), [], {
      // Of what this process knows it needs no secret.
      env: {
        PATH: process.env["PATH"],
        TMPDIR: process.env["TMPDIR"],
        CHROMIUM: process.env["CHROMIUM"],
        LOG_LEVEL: process.env["LOG_LEVEL"],
        NODE_ENV: process.env["NODE_ENV"],
      },
      execArgv: ["--import", "tsx"],
      stdio: ["ignore", "inherit", "inherit", "ipc"],
    });
    started.once("exit", () => {
      if (child === started) child = null;
    });
    started.on("error", (error) => log.error({ error: loggableError(error) }, "print process"));
    child = started;
    return started;
  }

  function ask(job: PrintJob): Promise<void> {
    const asked = worker();
    return new Promise<void>((resolve, reject) => {
      const limit = setTimeout(() => {
        log.error({ ms: job.timeoutMs }, "print process hangs and is ended");
        if (child === asked) child = null;
        endAll(asked);
        finish(new NotPrinted("too-long"));
      }, job.timeoutMs);
      const onMessage = (said: Printed & { id: string }) => {
        if (said.id === job.id) finish(said.why === null ? null : new NotPrinted(said.why));
      };
      const onExit = () => finish(new NotPrinted("failed"));
      function finish(error: Error | null) {
        clearTimeout(limit);
        asked.off("message", onMessage).off("exit", onExit);
        if (error) reject(error);
        else resolve();
      }
      asked.on("message", onMessage).once("exit", onExit);
      asked.send(job);
    });
  }

  const stopWorker = () => {
    const ended = child;
    child = null;
    if (ended) {
      const pids = ended.pid === undefined ? [] : childrenOf(ended.pid);
      ended.kill("SIGTERM");
      for (const pid of pids)
        try {
          process.kill(-pid, "SIGTERM");
        } catch {
          continue;
        }
    }
  };

  return {
    print({ timeoutMs = longestMs, ...job }) {
      clearTimeout(timer);
      const printed = queue.then(() => {
        if (isStopped) throw new NotPrinted("failed");
        return ask({ ...job, timeoutMs, id: newId() });
      });
      queue = printed.catch(() => undefined);
      void queue.then(() => {
        clearTimeout(timer);
        timer = setTimeout(stopWorker, idle).unref();
      });
      return printed;
    },
    pid: () => child?.pid ?? null,
    async stop() {
      isStopped = true;
      clearTimeout(timer);
      stopWorker();
      await queue;
    },
  };
}
