/** `npm run upgrade`: the version in this folder takes the place of the one that serves, and nobody finds the site away. */
import { currentBuild, ensureBuild, useBuild } from "./build.mjs";
import { isThere, runningFile, takeCommandLock } from "./claim.mjs";
import { exitOnSetupError, SetupError, step } from "./console.mjs";
import { openDatabase, ownerEnvironment } from "./database.mjs";
import { checkNode, ensurePackages, runTypeScript } from "./setup.mjs";
import { readState } from "./state.mjs";

const patience = 60_000;

/** Asks the start command to let the build in use take over, and waits until it has. */
async function takeOver(running, build) {
  const asked = Date.now();
  process.kill(running.pid, "SIGUSR2");
  for (const until = Date.now() + patience; Date.now() < until;) {
    await new Promise((resolve) => setTimeout(resolve, 100));
    const now = readState(runningFile);
    if (now?.build === build) return;
    if (!isThere(now) || now.notRenewedAt >= asked) break;
  }
  throw new SetupError(
    "The new version did not start; its last lines are with those of npm start. The version before goes on serving. Its tables are up to " +
      "date, which does not disturb it.",
  );
}

async function upgrade() {
  const running = readState(runningFile);
  if (!isThere(running) || !running.address)
    throw new SetupError(
      "Nothing is served from this folder, so nothing was done. npm start brings up this version.",
    );
  const before = running.build;
  // A version that cannot be built changes nothing in the database.
  await ensurePackages();
  await ensureBuild();
  const build = currentBuild();
  if (build === before) return console.log("The version that serves is this one already.");
  let database;
  try {
    database = await openDatabase({ demo: running.site === "demo", beside: true });
    await step("Putting the new version in the place of the old", () => takeOver(running, build));
    // What the old version wrote since the tables were brought up to date, as the new one writes it; ways in that only the old one needed close.
    await step("Looking after summaries", () =>
      runTypeScript("cli/rebuild.ts", ["--stale"], {
        env: { ...process.env, ...ownerEnvironment(database) },
      }),
    );
  } catch (error) {
    if (before) useBuild(before);
    throw error;
  } finally {
    await database?.close();
  }
  console.log(`\nThe new version serves at ${running.address}\n`);
}

async function main() {
  checkNode();
  const letGo = await takeCommandLock();
  await upgrade().finally(letGo);
}

main().catch(exitOnSetupError);
