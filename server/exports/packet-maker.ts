import { type ChildProcess, fork } from "node:child_process";
import { join } from "node:path";
import { log } from "../failure.ts";

/** A packet to work at. */
export interface PacketJob {
  schoolId: string;
  packetId: string;
}

export interface PacketMaker {
  /** Works at a packet until it is done, stopped, or waits for a person. Rejects where its process ended before. */
  make: (job: PacketJob) => Promise<void>;
  stop: () => Promise<void>;
}

/** What of this process's surroundings the other one needs. */
const needed = ["PATH", "TMPDIR", "HOME", "NODE_ENV", "LOG_LEVEL", "CHROMIUM", "APP_KEY", "PICTURES_FOLDER"];

/**
 * Makes packets in a process of its own, one for each packet: reading and drawing many reports would hold up the pages of everybody else
 * here. It runs from its source, as our commands do, and behind everything else on the machine.
 *
 * @param assets the folder of what pages load
 * @param databaseUrl of the application, with its password
 * @returns also the ids of its processes
 */
export function openPacketMaker({
  assets,
  databaseUrl,
}: {
  assets: string;
  databaseUrl: string;
}): PacketMaker & { pids: () => number[] } {
  const running = new Set<ChildProcess>();
  let isStopping = false;
  const make = ({ schoolId, packetId }: PacketJob) =>
    new Promise<void>((resolve, reject) => {
      // The queue may give out one more while it is stopped. It stays there for another process.
      if (isStopping) return reject(new Error("no packets are made here any more"));
      const child = fork(join(process.cwd(), "app/files/packet-worker.ts"), [schoolId, packetId, assets], {
        env: {
          ...Object.fromEntries(
            needed.flatMap((name) => (process.env[name] ? [[name, process.env[name]]] : [])),
          ),
          APP_DATABASE_URL: databaseUrl,
          // It draws pages, which are read as they are.
          TSX_TSCONFIG_PATH: join(process.cwd(), "app/tsconfig.json"),
        },
        // What reports took is given back before the next ones.
        execArgv: ["--expose-gc", "--import", "tsx"],
        stdio: ["ignore", "inherit", "inherit", "ipc"],
        // A session of its own, which is put behind all others.
        detached: true,
      });
      running.add(child);
      child.once("error", reject);
      child.once("exit", (code, signal) => {
        running.delete(child);
        if (code === 0) return resolve();
        log.warn({ code, signal }, "packet process ended");
        reject(new Error("the process that makes a packet ended"));
      });
    });
  return {
    make,
    pids: () => [...running].flatMap(({ pid }) => pid ?? []),
    async stop() {
      isStopping = true;
      await Promise.all(
        [...running].map(
          (child) =>
            new Promise<void>((resolve) => {
              child.once("exit", () => resolve());
              child.kill("SIGTERM");
            }),
        ),
      );
    },
  };
}
