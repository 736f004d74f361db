/** Runs one of our commands (with `--built`, one that needs the built application; with `--keyed`, one that needs the application's key) on the school's database (with GENTLE_MARGIN_DATABASE=demo, on the demo's). */
import { spawn } from "node:child_process";
import { basename } from "node:path";
import { takeCommandLock } from "./claim.mjs";
import { ensureBuild } from "./build.mjs";
import { exitOnSetupError, stepsTo } from "./console.mjs";
import { openDatabase, ownerEnvironment } from "./database.mjs";
import { noteCommand } from "./note-command.mjs";
import { checkNode, projectFolder } from "./setup.mjs";

async function main() {
  checkNode();
  const isBuilt = process.argv[2] === "--built";
  const isKeyed = process.argv[2] === "--keyed";
  const [file, ...args] = process.argv.slice(isBuilt || isKeyed ? 3 : 2);
  // What a command prints is all that its output holds.
  stepsTo(process.stderr);
  const letGo = await takeCommandLock();
  // The site may be served by another version: what that one needs stays open.
  const database = await openDatabase({
    demo: process.env.GENTLE_MARGIN_DATABASE === "demo",
    beside: true,
  });
  if (isBuilt) await ensureBuild();
  const child = spawn(
    process.execPath,
    ["--import", import.meta.resolve("tsx"), `${projectFolder}/${file}`, ...args],
    {
      stdio: "inherit",
      cwd: isBuilt ? projectFolder : process.cwd(),
      env: {
        ...process.env,
        ...ownerEnvironment(database),
        ...(isKeyed ? { APP_DATABASE_URL: database.appUrl } : {}),
        // A command that draws pages is read as they are; it acts as the application, with its key.
        ...(isBuilt
          ? { APP_DATABASE_URL: database.appUrl, TSX_TSCONFIG_PATH: `${projectFolder}/app/tsconfig.json` }
          : {}),
      },
    },
  );
  const code = await new Promise((resolve) => child.once("exit", (exit) => resolve(exit ?? 1)));
  await noteCommand(database.ownerUrl, basename(file, ".ts"));
  await database.close();
  await letGo();
  process.exitCode = code;
}

main().catch(exitOnSetupError);
