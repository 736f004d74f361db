/** Runs one of our commands on the school's database (with GENTLE_MARGIN_DATABASE=demo, on the demo's). */
import { spawn } from "node:child_process";
import { takeLock } from "./claim.mjs";
import { exitOnSetupError, SetupError } from "./console.mjs";
import { openDatabase, ownerEnvironment } from "./database.mjs";
import { checkNode, projectFolder } from "./setup.mjs";

async function main() {
  checkNode();
  const [file, ...args] = process.argv.slice(2);
  const letGo = await takeLock("command", {
    wait: 600_000,
    onWait: () => console.error("Another command is at work here; waiting for it …"),
  });
  if (!letGo)
    throw new SetupError("Another command has been at work here for ten minutes. Nothing was done.");
  const database = await openDatabase({ demo: process.env.GENTLE_MARGIN_DATABASE === "demo" });
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
