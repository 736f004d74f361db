/** `npm run demo` and `npm start`: everything from a bare machine to a served page, and Ctrl-C back again. */
import cluster from "node:cluster";
import { spawn } from "node:child_process";
import { once } from "node:events";
import { rmSync } from "node:fs";
import { join } from "node:path";
import { createInterface } from "node:readline";
import { parseArgs } from "node:util";
import { currentBuild, ensureBuild } from "./build.mjs";
import { endLeftover, noteOf, runningFile, takeLock } from "./claim.mjs";
import { exitOnSetupError, SetupError, step } from "./console.mjs";
import { openDatabase, ownerEnvironment } from "./database.mjs";
import { readState, writeState } from "./state.mjs";
import { endChild, endRunning } from "./process.mjs";
import { checkNode, dataFolder, ensurePackages, projectFolder, runTypeScript } from "./setup.mjs";

const options = readOptions();

function readOptions() {
  try {
    const { values } = parseArgs({
      options: {
        demo: { type: "boolean", default: false },
        fresh: { type: "boolean", default: false },
        port: { type: "string" },
      },
    });
    return values;
  } catch (error) {
    console.error(`\n${error.message}\n\nThe options are --port NUMBER and --fresh (with npm run demo).\n`);
    process.exit(2);
  }
}

const portsFile = join(dataFolder, "ports.json");
const site = options.demo ? "demo" : "school";

/**
 * The port to listen on, and how many after it may be tried. Once chosen it stays: at another address the tablets of this school would not
 * find what waits on them.
 */
function wishedPort() {
  const wished = options.port ?? process.env.PORT;
  if (wished !== undefined) return { port: readPort(wished), tries: 1, from: `Port ${wished} is taken.` };
  const kept = readState(portsFile)?.[site];
  return kept
    ? { port: kept, tries: 1, from: `Port ${kept}, where this site has been so far, is taken.` }
    : { port: 4717, tries: 200, from: "No port from 4717 to 4916 is free." };
}

function readPort(text) {
  const port = Number(text);
  if (Number.isInteger(port) && port > 0 && port < 65_536) return port;
  throw new SetupError(`"${text}" is no port. A port is a number from 1 to 65535.`);
}

/** One start at a time for this folder. What an earlier one that was killed left behind is ended, by its noted number. */
async function claimFolder() {
  const letGo = await takeLock("start");
  const noted = readState(runningFile);
  if (!letGo)
    throw new SetupError(
      `Gentle Margin is already running here: ${noted?.address ?? "starting"} (process ${noted?.pid ?? "not noted"}).`,
    );
  for (const web of [noted?.web, noted?.next])
    if (await endLeftover(web)) console.log("A web server that an earlier start left behind was ended.");
  const note = { ...noteOf(process.pid), site };
  return {
    note: (more) => writeState(runningFile, Object.assign(note, more)),
    async release() {
      rmSync(runningFile, { force: true });
      await letGo();
    },
  };
}

/** The port that our own process has bound, once it has. */
function untilListening(child, { from }) {
  return new Promise((resolve, reject) => {
    child.once("message", ({ listening }) => resolve(listening));
    child.once("exit", () =>
      reject(
        new SetupError(`The web server ended before it was ready; its last lines are above. ${from}
If another program has the port, end it, or choose another port with --port.`),
      ),
    );
  });
}

async function untilReady(url, child) {
  for (;;) {
    if (child.exitCode !== null || child.signalCode !== null)
      throw new SetupError("The web server ended before it was ready; its last lines are above.");
    const ready = await fetch(`${url}/ready`).then(
      (answer) => answer.ok,
      () => false,
    );
    if (ready) return;
    await new Promise((resolve) => setTimeout(resolve, 50));
  }
}

/**
 * A stand-in of the demo for an outside service, in a process of its own that ends with this one. Answers with what its first line says;
 * null where it does not start: a demo without its mailbox shows links instead, and one without a provider asks for passwords.
 */
async function startStandIn(command, args = [], env = {}) {
  const child = spawn(process.execPath, ["--import", "tsx", `demo/${command}.ts`, ...args], {
    cwd: projectFolder,
    stdio: ["ignore", "pipe", "inherit", "ipc"],
    env: { ...process.env, ...env },
  });
  const [first] = await Promise.race([
    once(createInterface({ input: child.stdout }), "line"),
    once(child, "exit").then(() => [null]),
  ]);
  return first === null ? null : { child, ...JSON.parse(first) };
}

/** A code for the first person, where there is no school yet. */
async function makeSetUpCode(database) {
  const printed = await runTypeScript("cli/set-up-code.ts", ["--if-needed"], {
    env: { ...process.env, ...ownerEnvironment(database) },
  });
  return printed.trim() || null;
}

/** The web server may not read everything, so the nightly backup that it asks for is made here. A demo needs none. */
async function backUpWhenAsked({ backUp }, web, database) {
  if (backUp === undefined) return;
  const made = options.demo
    ? Promise.resolve()
    : runTypeScript("cli/backup.ts", [], { env: { ...process.env, ...ownerEnvironment(database) } });
  const ok = await made.then(
    () => true,
    (error) => {
      console.error(`The nightly backup failed. ${error.message}`);
      return false;
    },
  );
  if (web.connected) web.send({ backedUp: backUp, ok });
}

function say(url, { setUpCode, mailbox, provider }) {
  console.log(`\nGentle Margin is at ${url}\n`);
  if (setUpCode)
    console.log(`  There is no school here yet. Open ${url}/first-run and give this code: ${setUpCode}\n`);
  if (mailbox) console.log(`  What the demo mails arrives at ${mailbox}\n`);
  if (options.demo) {
    console.log("  Demo accounts, password for all: gentle margin demo");
    console.log("    noor.halloran@larkspurbay.example      case manager, leads all 14 students");
    console.log("    ines.okafor@larkspurbay.example        speech-language pathologist, in two schools");
    console.log("    gus.lindqvist@larkspurbay.example      adapted PE, outside Wren's circle");
    console.log("    desmond.achterberg@larkspurbay.example principal, in no circle; sees the district");
    console.log("    petra.lindahl@heronpoint.example       leads the one student of a second school");
    console.log("    lena.abara@home.example                Wren's mother, signs in with an account\n");
    if (provider)
      console.log(
        "  “Larkspur Bay account” on the sign-in page asks a stand-in for an e-mail of the above and any password.\n",
      );
    console.log(`  Junie's mother reads in Spanish by a link; its code is mailed, to the mailbox above:`);
    console.log(`    ${url}/family/open/demo-link-of-marisol-reyes-for-junie-larksp\n`);
  }
  console.log("Ctrl-C stops it.\n");
}

/** After each end in a row it waits longer; one that has served for a minute begins again. */
const pauses = [1000, 2000, 5000, 10_000, 30_000];
const served = 60_000;
const lookAfterDatabase = 2000;
/** How long a web server whose place another took may finish what it has under way. */
const farewell = 35_000;

// All web servers that are started here listen at one socket, so that one takes the place of another and no request finds nobody.
cluster.schedulingPolicy = cluster.SCHED_NONE;

async function main() {
  checkNode();
  const claim = await claimFolder();
  claim.note({ address: null });
  const host = process.env.HOST ?? "127.0.0.1";
  let database;
  let web;
  let mailbox = null;
  let provider = null;
  let renewing = null;
  const webs = new Set();
  let looking;
  let settled = Promise.resolve();
  let ending = false;
  const end = async (code) => {
    if (ending) return;
    ending = true;
    clearInterval(looking);
    // What is under way is ended until the set-up has given up, so that it leaves nothing behind.
    const untilSettled = setInterval(() => void endRunning(), 100);
    await settled;
    clearInterval(untilSettled);
    await Promise.all([...webs, mailbox?.child, provider?.child].map((child) => child && endChild(child)));
    await database?.close();
    await claim.release();
    process.exit(code);
  };
  for (const signal of ["SIGINT", "SIGTERM", "SIGHUP"]) process.on(signal, () => void end(0));

  /** Starts a process of the build in use. One that comes beside another listens only once it is ready. */
  function forkWeb(wished, { beside }) {
    cluster.setupPrimary({ exec: join(projectFolder, "build/server/index.js"), cwd: projectFolder });
    const child = cluster.fork({
      NODE_ENV: "production",
      LOG_LEVEL: process.env.LOG_LEVEL ?? "warn",
      PORT: String(wished.port),
      PORT_TRIES: String(wished.tries),
      HOST: host,
      APP_DATABASE_URL: database.appUrl,
      DATABASE_URL: "",
      ...(mailbox
        ? { SMTP_URL: mailbox.smtpUrl, MAIL_FROM: "Gentle Margin <margin@larkspurbay.example>" }
        : {}),
      ...(beside ? { READY_FIRST: "1" } : {}),
    }).process;
    webs.add(child);
    child.once("exit", () => webs.delete(child));
    child.on("message", (message) => void backUpWhenAsked(message, child, database));
    return child;
  }

  /** Starts the web server and waits until it serves. Answers with its port. */
  async function startWeb(wished) {
    const child = forkWeb(wished, { beside: false });
    web = child;
    claim.note({ address: null, web: noteOf(child.pid), build: currentBuild() });
    const port = await untilListening(child, wished);
    // Asked of the port that our own process has bound, and so of nobody else.
    const asked = ["0.0.0.0", "::"].includes(host) ? "127.0.0.1" : host;
    await untilReady(`http://${asked}:${port}`, child);
    const address = `http://${["127.0.0.1", "0.0.0.0", "::"].includes(host) ? "localhost" : host}:${port}`;
    claim.note({ address });
    return { port, address };
  }

  /** Starts a web server that has ended again, at the same port, for as long as it takes. */
  function keepServing(port) {
    const wished = { port, tries: 1, from: `Port ${port} is taken.` };
    let inARow = 0;
    const watch = (child, since) =>
      child.once("exit", (code, signal) => {
        if (ending || child !== web) return;
        if (Date.now() - since > served) inARow = 0;
        void again(child, `The web server ended (${signal ?? `code ${code}`})`);
      });
    const again = async (gone, why) => {
      const pause = pauses[Math.min(inARow, pauses.length - 1)];
      inARow += 1;
      console.error(`${why}; it is started again in ${pause / 1000} s.`);
      await new Promise((resolve) => setTimeout(resolve, pause));
      await renewing;
      if (ending || gone !== web) return;
      try {
        const since = Date.now();
        await startWeb(wished);
        watch(web, since);
        console.error("The web server serves again.");
      } catch {
        if (!ending) void again(web, "The web server did not start");
      }
    };
    watch(web, Date.now());

    /** The build in use takes the place of the one that serves, which finishes what it has under way. */
    const renew = async () => {
      const [old, since, build] = [web, Date.now(), currentBuild()];
      const next = forkWeb(wished, { beside: true });
      claim.note({ next: noteOf(next.pid) });
      try {
        await untilListening(next, wished);
      } catch {
        claim.note({ next: null, notRenewedAt: Date.now() });
        console.error("The new version did not start. The one before it goes on serving.");
        return;
      }
      web = next;
      watch(next, since);
      claim.note({ web: noteOf(next.pid), build, next: noteOf(old.pid) });
      if (old.connected) old.send({ handOver: true });
      setTimeout(() => old.kill("SIGKILL"), farewell).unref();
      old.once("exit", () => claim.note({ next: null }));
      console.log("A new version serves.");
    };
    process.on("SIGUSR2", () => {
      if (!ending) renewing ??= renew().finally(() => (renewing = null));
    });
  }

  /** Starts the database again where it was ended from outside. */
  function keepDatabase() {
    let at = Promise.resolve();
    let busy = false;
    looking = setInterval(() => {
      if (busy || ending) return;
      busy = true;
      at = at
        .then(() => database.revive())
        .then(
          (revived) => revived && console.error("The database had ended and was started again."),
          (error) => console.error(`The database does not start again yet. ${error.message}`),
        )
        .finally(() => (busy = false));
    }, lookAfterDatabase);
  }

  async function setUp() {
    // First: a version that cannot be built changes nothing in the database.
    await ensurePackages();
    await ensureBuild();
    database = await openDatabase(options);
    if (options.demo)
      await step("Looking after the demo data", () =>
        runTypeScript("demo/seed-command.ts", ["--with-neighbors"], {
          env: { ...process.env, OWNER_DATABASE_URL: database.ownerUrl },
        }),
      );
    if (ending) return;
    // Nobody but the person who sees this console can be the first.
    const setUpCode = options.demo ? null : await makeSetUpCode(database);
    if (options.demo) mailbox = await startStandIn("mailbox-command");
    const { port, address } = await step("Starting the web server", () => startWeb(wishedPort()));
    if (options.port === undefined && !process.env.PORT)
      writeState(portsFile, { ...readState(portsFile), [site]: port });
    keepServing(port);
    keepDatabase();
    if (options.demo)
      provider = await startStandIn("provider-command", [address], {
        OWNER_DATABASE_URL: database.ownerUrl,
      });
    say(address, { setUpCode, mailbox: mailbox?.url, provider: provider?.issuer });
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
