import { spawn } from "node:child_process";
import { createInterface } from "node:readline";
import { fileURLToPath } from "node:url";

export interface WebServer {
  url: string;
  /** Everything it logged, one line each. */
  log: string[];
  alive: () => boolean;
  kill: (signal: NodeJS.Signals) => Promise<void>;
  /** Asks it to end, and says with which code it did: null where it had to be killed. */
  stop: () => Promise<number | null>;
}

const builtServer = fileURLToPath(new URL("../build/server/index.js", import.meta.url));

/** Starts the built application (or another server that says `listening` as it does) on a free port, and waits until it listens. */
export async function startWebServer(
  appUrl: string,
  env: Record<string, string> = {},
  entry = builtServer,
): Promise<WebServer> {
  const child = spawn(process.execPath, [...(entry.endsWith(".ts") ? ["--import", "tsx"] : []), entry], {
    stdio: ["ignore", "pipe", "inherit"],
    env: {
      PATH: process.env["PATH"],
      NODE_ENV: "production",
      LOG_LEVEL: "debug",
      PORT: "0",
      HOST: "127.0.0.1",
      APP_DATABASE_URL: appUrl,
      // A machine that is busy with other tests is no database that is away.
      PATIENCE: "20",
      ...env,
    },
  });
  // A test that fails before it stops its server leaves none behind.
  const withUs = () => child.kill("SIGKILL");
  process.once("exit", withUs);
  child.once("exit", () => process.removeListener("exit", withUs));
  const log: string[] = [];
  const exited = new Promise<void>((resolve) => child.once("exit", () => resolve()));
  const port = await new Promise<number>((resolve, reject) => {
    child.once("exit", (code) => reject(new Error(`the web server ended with ${code}\n${log.join("\n")}`)));
    createInterface({ input: child.stdout }).on("line", (line) => {
      log.push(line);
      const said = line.startsWith("{") ? (JSON.parse(line) as { msg?: string; port?: number }) : {};
      if (said.msg === "listening" && said.port) resolve(said.port);
    });
  });
  const alive = () => child.exitCode === null && child.signalCode === null;
  const kill = async (signal: NodeJS.Signals) => {
    if (alive()) child.kill(signal);
    await exited;
  };
  const stop = async () => {
    await kill("SIGTERM");
    return child.exitCode;
  };
  return { url: `http://localhost:${port}`, log, alive, kill, stop };
}
