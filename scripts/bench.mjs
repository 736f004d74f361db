/** `npm run bench`: each benchmark of bench/ against its reference, in one run; it fails where one of them does. `npm run bench -- pages` runs one. */
import { spawn } from "node:child_process";
import { readdirSync } from "node:fs";
import { join } from "node:path";
import { ensureBuild } from "./build.mjs";
import { exitOnSetupError, SetupError } from "./console.mjs";
import { checkNode, ensurePackages, ensurePrograms, projectFolder } from "./setup.mjs";
import { withTestCluster } from "./test-cluster.mjs";

async function main() {
  checkNode();
  await ensurePrograms(["postgres"]);
  await ensurePackages();
  await ensureBuild();
  const [only] = process.argv.slice(2);
  const files = readdirSync(join(projectFolder, "bench")).filter(
    (name) => name.endsWith(".bench.ts") && name.includes(only ?? ""),
  );
  const failed = [];
  await withTestCluster({}, async (env) => {
    for (const file of files) {
      const child = spawn(process.execPath, ["--import", "tsx", join("bench", file)], {
        cwd: projectFolder,
        stdio: "inherit",
        env: { ...process.env, ...env },
      });
      const code = await new Promise((resolve) => child.once("exit", resolve));
      if (code !== 0) failed.push(file);
    }
  });
  if (files.length === 0) throw new SetupError(`No benchmark has "${only}" in its name.`);
  if (failed.length === 0) return;
  console.error(`\nFailed: ${failed.join(", ")}`);
  process.exitCode = 1;
}

main().catch(exitOnSetupError);
