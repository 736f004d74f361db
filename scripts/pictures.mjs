/** `npm run pictures`: takes the pictures of docs/screenshots anew, from the demo school. */
import { spawn } from "node:child_process";
import { join } from "node:path";
import { ensureBuild } from "./build.mjs";
import { exitOnSetupError } from "./console.mjs";
import { checkNode, ensurePackages, ensurePrograms, projectFolder } from "./setup.mjs";
import { withTestCluster } from "./test-cluster.mjs";

async function main() {
  checkNode();
  await ensurePrograms(["postgres", "chromium", "pdftotext"]);
  await ensurePackages();
  await ensureBuild();
  await withTestCluster({ fsync: "off" }, async (env) => {
    const args = [
      "node_modules/@playwright/test/cli.js",
      "test",
      "--config",
      "playwright.config.ts",
      "--reporter=list",
    ];
    const child = spawn(process.execPath, args, {
      cwd: projectFolder,
      stdio: "inherit",
      env: { ...process.env, ...env, GENTLE_MARGIN_PICTURES: join(projectFolder, "docs", "screenshots") },
    });
    process.exitCode = await new Promise((resolve) => child.once("exit", (code) => resolve(code ?? 1)));
  });
}

main().catch(exitOnSetupError);
