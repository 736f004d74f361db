/** `npm test`: everything from a bare machine to one line that says how many checks passed. `--only types,lint,unit,db,browser` runs parts. */
import { spawn } from "node:child_process";
import { mkdirSync, readFileSync, rmSync } from "node:fs";
import { join } from "node:path";
import { parseArgs } from "node:util";
import { ensureBuild } from "./build.mjs";
import { exitOnSetupError, step } from "./console.mjs";
import { run } from "./process.mjs";
import { checkNode, ensurePackages, ensurePrograms, projectFolder } from "./setup.mjs";
import { withTestCluster } from "./test-cluster.mjs";
import { partsOf, playwrightCounts, vitestCounts } from "./test-counts.mjs";

const { values, positionals } = parseArgs({ allowPositionals: true, options: { only: { type: "string" } } });
const parts = partsOf(values.only);
const results = join(projectFolder, "test-results");

/** Runs a tool with its output shown. */
function shown(args, env) {
  return new Promise((resolve) => {
    const stdio = ["ignore", "inherit", "inherit"];
    const child = spawn(process.execPath, args, {
      cwd: projectFolder,
      stdio,
      env: { ...process.env, ...env },
    });
    child.once("exit", resolve);
  });
}

async function check(label, tool, args) {
  try {
    await step(label, () =>
      run(process.execPath, [join(projectFolder, "node_modules", tool), ...args], { cwd: projectFolder }),
    );
    return { passed: 1, failed: 0 };
  } catch (error) {
    console.error(error.message);
    return { passed: 0, failed: 1 };
  }
}

function readResults(file, counts) {
  try {
    return counts(JSON.parse(readFileSync(join(results, file), "utf8")));
  } catch {
    return { passed: 0, failed: 1 };
  }
}

async function runSuites(env) {
  const counts = [];
  const projects = ["unit", "db"].filter((part) => parts.has(part)).map((part) => `--project=${part}`);
  if (projects.length > 0) {
    const reports = [
      "--reporter=default",
      "--reporter=json",
      `--outputFile.json=${join(results, "vitest.json")}`,
    ];
    await shown(["node_modules/vitest/vitest.mjs", "run", ...projects, ...reports, ...positionals], env);
    counts.push(readResults("vitest.json", vitestCounts));
  }
  if (parts.has("browser")) {
    const report = { PLAYWRIGHT_JSON_OUTPUT_NAME: join(results, "playwright.json") };
    await shown(["node_modules/@playwright/test/cli.js", "test", ...positionals], { ...env, ...report });
    counts.push(readResults("playwright.json", playwrightCounts));
  }
  return counts;
}

async function main() {
  checkNode();
  await ensurePrograms(["postgres", ...(parts.has("browser") ? ["chromium"] : [])]);
  await ensurePackages();
  rmSync(results, { recursive: true, force: true });
  mkdirSync(results, { recursive: true });
  await ensureBuild();
  const counts = [];
  if (parts.has("types") || parts.has("lint")) {
    counts.push(await check("Types of the routes", "@react-router/dev/bin.js", ["typegen"]));
  }
  if (parts.has("types")) {
    for (const project of ["core", "server", "app", "cli", "e2e"])
      counts.push(await check(`Types of ${project}`, "typescript/bin/tsc", ["-p", project]));
  }
  if (parts.has("lint")) {
    counts.push(await check("Lint", "eslint/bin/eslint.js", ["."]));
    counts.push(
      await check("Formatting", "prettier/bin/prettier.cjs", ["--check", "--log-level", "warn", "."]),
    );
  }
  if (["unit", "db", "browser"].some((part) => parts.has(part))) {
    counts.push(...(await withTestCluster({ fsync: "off", full_page_writes: "off" }, runSuites)));
  }
  const total = counts.reduce(
    (sum, { passed, failed }) => ({ passed: sum.passed + passed, failed: sum.failed + failed }),
    { passed: 0, failed: 0 },
  );
  console.log(`\n${total.passed} passed, ${total.failed} failed`);
  process.exit(total.failed === 0 && total.passed > 0 ? 0 : 1);
}

main().catch(exitOnSetupError);
