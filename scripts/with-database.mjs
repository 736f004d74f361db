/** Runs one of our commands on the school's database (with GENTLE_MARGIN_DATABASE=demo, on the demo's). */
import { spawn } from "node:child_process";
import { takeCommandLock } from "./claim.mjs";
import { exitOnSetupError } from "./console.mjs";
import { openDatabase, ownerEnvironment } from "./database.mjs";
import { checkNode, projectFolder } from "./setup.mjs";

async function main() {
  checkNode();
  const [file, ...args] = process.argv.slice(2);
  const letGo = await takeCommandLock();
  // The site may be served by another version: what that one needs stays open.
  const database = await openDatabase({
    demo: process.env.GENTLE_MARGIN_DATABASE === "demo",
    beside: true,
  });
  const child = spawn(
    process.execPath,
    ["--import", import.meta.resolve("tsx"), `${projectFolder}/${file}`, ...args],
    {
      stdio: "inherit",
      env: { ...process.env, ...ownerEnvironment(database) },
    },
  );
  const code = await new Promise((resolve) => child.once("exit", (exit) => resolve(exit ?? 1)));
  await database.close();
  await letGo();
  process.exitCode = code;
}

main().catch(exitOnSetupError);
