/** `npm run demo` and `npm start`: everything from a bare machine to a served page, and Ctrl-C back again. */
import { spawn } from "node:child_process";
import { existsSync, mkdirSync, readFileSync, rmSync, writeFileSync } from "node:fs";
import { join } from "node:path";
import { parseArgs } from "node:util";
import { ensureBuild } from "./build.mjs";
import { exitOnSetupError, SetupError, step } from "./console.mjs";
import { openDatabase } from "./database.mjs";
import { choosePort, isPortFree } from "./postgres.mjs";
import { endChild, endRunning, isAlive } from "./process.mjs";
import { checkNode, dataFolder, projectFolder, runTypeScript } from "./setup.mjs";

const { values: options } = parseArgs({
  options: {
    demo: { type: "boolean", default: false },
    fresh: { type: "boolean", default: false },
    port: { type: "string" },
  },
});

async function webPort() {
  const wished = options.port ?? process.env.PORT;
  if (wished === undefined) return choosePort(4717);
  if (await isPortFree(Number(wished))) return Number(wished);
  throw new SetupError(
    `Port ${wished} is taken. Choose another with --port, or leave it out to take a free one.`,
  );
}

/** One start at a time for this folder: two would stop the database under each other. */
function claimFolder() {
  const file = join(dataFolder, "running.json");
  if (existsSync(file)) {
    const { pid, address } = JSON.parse(readFileSync(file, "utf8"));
    let ours = false;
    try {
      ours = isAlive(pid) && readFileSync(`/proc/${pid}/cmdline`, "utf8").includes("up.mjs");
    } catch {
      ours = false;
    }
    if (ours)
      throw new SetupError(
        `Gentle Margin is already running here: ${address ?? "starting"} (process ${pid}).`,
      );
  }
  mkdirSync(dataFolder, { recursive: true, mode: 0o700 });
  const note = (address) => writeFileSync(file, JSON.stringify({ pid: process.pid, address }));
  note(null);
  return { note, release: () => rmSync(file, { force: true }) };
}

async function untilReady(url, child) {
  for (;;) {
    if (child.exitCode !== null)
      throw new SetupError("The web server ended before it was ready; its last lines are above.");
    const ready = await fetch(`${url}/ready`).then(
      (answer) => answer.ok,
      () => false,
    );
    if (ready) return;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

function say(url) {
  console.log(`\nGentle Margin is at ${url}\n`);
  if (options.demo) {
    console.log("  Demo accounts, password for all: gentle margin demo");
    console.log("    noor.halloran@larkspurbay.example      case manager, leads all 14 students");
    console.log("    ines.okafor@larkspurbay.example        speech-language pathologist, records for some");
    console.log("    gus.lindqvist@larkspurbay.example      adapted PE, outside Wren's circle");
    console.log("    desmond.achterberg@larkspurbay.example principal, in no circle\n");
  }
  console.log("Ctrl-C stops it.\n");
}

async function main() {
  checkNode();
  const claim = claimFolder();
  let database;
  let web;
  let settled = Promise.resolve();
  let ending = false;
  const end = async (code) => {
    if (ending) return;
    ending = true;
    // What is under way is ended until the set-up has given up, so that it leaves nothing behind.
    const untilSettled = setInterval(() => void endRunning(), 100);
    await settled;
    clearInterval(untilSettled);
    if (web) await endChild(web);
    await database?.close();
    claim.release();
    process.exit(code);
  };
  for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"]) process.on(signal, () => void end(0));

  async function setUp() {
    database = await openDatabase(options);
    if (options.demo)
      await step("Looking after the demo data", () =>
        runTypeScript("demo/seed-command.ts", [], {
          env: { ...process.env, OWNER_DATABASE_URL: database.ownerUrl },
        }),
      );
    await ensureBuild();
    const port = await webPort();
    const host = process.env.HOST ?? "127.0.0.1";
    const url = `http://${host === "127.0.0.1" ? "localhost" : host}:${port}`;
    if (ending) return;
    web = spawn(process.execPath, ["build/server/index.js"], {
      cwd: projectFolder,
      stdio: ["ignore", "inherit", "inherit"],
      detached: true,
      env: {
        ...process.env,
        NODE_ENV: "production",
        LOG_LEVEL: process.env.LOG_LEVEL ?? "warn",
        PORT: String(port),
        HOST: host,
        APP_DATABASE_URL: database.appUrl,
        DATABASE_URL: "",
      },
    });
    web.once("exit", () => void end(1));
    await step("Starting the web server", () => untilReady(`http://${host}:${port}`, web));
    claim.note(url);
    say(url);
  }
  let failed = false;
  settled = setUp().catch((error) => {
    failed = true;
    if (!ending) console.error(error instanceof SetupError ? `\n${error.message}\n` : error);
  });
  await settled;
  if (failed) await end(1);
}

main().catch(exitOnSetupError);
